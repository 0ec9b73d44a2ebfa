/** Conversions for display and entry. Everything sent and stored is °C. */

import { written } from "./figures";

export { written };

export type Scale = "C" | "F";

export const toScale = (celsius: number, scale: Scale) => (scale === "F" ? (celsius * 9) / 5 + 32 : celsius);
export const fromScale = (shown: number, scale: Scale) => (scale === "F" ? ((shown - 32) * 5) / 9 : shown);

/** A unit as this person reads it. */
export const unitOf = (unit: string, scale: Scale) => (unit === "°C" ? `°${scale}` : unit);

const sign = (text: string) => text.replace("-", "−");

export function showTemp(celsius: number, scale: Scale): string {
  return sign(toScale(celsius, scale).toFixed(0));
}

/** A rise, which has no zero to be shifted. */
export const riseIn = (celsius: number, scale: Scale) => toScale(celsius, scale) - toScale(0, scale);

/** Reads a number as people type it: comma or point, either minus. */
export function readNumber(text: string): number | undefined {
  const tidy = text.trim().replace(",", ".").replace("−", "-");
  if (tidy === "" || !/^[+-]?(\d+\.?\d*|\.\d+)$/.test(tidy)) return undefined;
  return Number(tidy);
}

export const showNumber = (v: number, digits: number) => written(sign(v.toFixed(digits)));

/** Keeps a figure and its unit on one line. */
export const keep = (text: string) => text.replace(/(\d) (%|°[CF]|V|A|Ah|s|h|min|CCA)(?![\w])/g, "$1\u00a0$2");

/** As hydrometers are read aloud: 1265, 265 and 1.265 are one figure. */
export function gravity(text: string): string {
  const digits = text.replace(/[.,\s]/g, "");
  if (/^1\d{3}$/.test(digits)) return `1.${digits.slice(1)}`;
  if (/^\d{3}$/.test(digits)) return `1.${digits}`;
  return text.replace(",", ".");
}
