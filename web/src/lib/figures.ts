/** How the person signed in writes figures: 12.65 or 12,65. */
let mark = ".";
export const writeWith = (decimal: "point" | "comma" | undefined) => {
  mark = decimal === "comma" ? "," : ".";
};

/** A figure written with a point, as this person writes it. */
export const written = (text: string) => text.replace(".", mark);
