import type { Guide, GuideStep } from "../../../lib/api";
import { Doing, Moving, Two } from "./AtBattery";
import { BatteryFigure, type Role, type Stand } from "./Battery";
import { SOFT, word } from "./ink";
import { CableEnd } from "./Cables";
import { Compare, Old, OnCharger, Vents } from "./Compare";
import { Hands, Waste } from "./Hands";
import { Standing, Switch } from "./Standing";
import { Cells, Tray } from "./Tray";
import { Dash, Supply, Vehicle } from "./Vehicle";

/** How the battery of a guide stands before a step. */
function standOf(guide: Guide, step: GuideStep): Stand {
  const { drawn, site } = guide;
  const { gone, aids, act, on } = step.draw;
  const off = (part: string) => gone.includes(part);
  const has = (part: string) => (site.on ?? []).includes(part);
  // What a step puts on is drawn on its post, its way with it.
  const putting = act === "on" ? on : undefined;
  const there = (role: Role) => (putting === role ? true : !off(role));
  const live = drawn.live === "+" ? drawn.positive : drawn.positive === "left" ? "right" : "left";
  const bench = step.draw.view === "bench" || off("battery");
  const roles: Role[] = ["earthed", "live"];
  return {
    terminals: drawn.terminals,
    live,
    sign: { live: drawn.live, earthed: drawn.live === "+" ? "−" : "+" },
    on: bench ? [] : roles.filter(there),
    aside: bench ? [] : roles.filter((r) => !there(r)),
    hood: aids.includes("hood"),
    cap: has("cover") && !off("cover") && !(act === "off" && on === "live"),
    holdDown: !off("hold_down") && !bench && act !== "lift",
    strap: has("strap") && !off("strap") && !bench,
    tube: has("vent_tube") && !off("vent_tube") && !bench,
    sensor: has("sensor") && !off("sensor"),
    caps: drawn.opens ? (off("caps") ? "off" : "on") : "none",
    crust: guide.what === "clean" && ["scrape", "soda"].includes(act ?? "") && step.code !== "tray",
    keepAlive: aids.includes("keep_alive"),
  };
}

/** A step shown: this vehicle, these terminals, what is off, what the hands do. */
export function Picture({ guide, step, className }: { guide: Guide; step: GuideStep; className?: string }) {
  const { draw } = step;
  const s = standOf(guide, step);
  const act = draw.act ?? "";
  const on = draw.on ?? "";
  const has = (part: string) => (guide.site.on ?? []).includes(part);
  const inside = () => {
    switch (draw.view) {
      case "hands":
        return <Hands high={guide.warnings.includes("high_voltage")} />;
      case "vehicle":
        return (
          <Vehicle
            kind={guide.drawn.class}
            place={guide.drawn.place}
            close={act === "close"}
            panel={guide.drawn.panel}
          />
        );
      case "supply":
        return <Supply socket={on === "socket"} off={act === "off"} />;
      case "cable":
        return <CableEnd s={s} act={act} onlyEarthed={draw.aids.includes("keep_alive")} />;
      case "tray":
        return <Tray act={act} on={on} module={has("module")} />;
      case "cells":
        return (
          <Cells
            n={guide.drawn.cells}
            act={act}
            off={draw.gone.includes("caps") || act === "off"}
            full={step.code === "caps_tight"}
          />
        );
      case "compare":
        return <Compare s={s} test={act === "measure"} />;
      case "vents":
        return <Vents move={act === "move"} opens={guide.drawn.opens} elbow={has("elbow")} plug={has("plug")} />;
      case "standing":
        return <Standing kind={guide.drawn.class} on={on} />;
      case "switch":
        return <Switch off={act === "off"} />;
      case "dash":
        return <Dash />;
      case "old":
        return <Old />;
      case "waste":
        return <Waste />;
      case "pair":
        if (act === "lift" || act === "lower") break;
        return (
          <Two s={s} series={guide.drawn.pair === "series"} act={act} on={on} linked={!draw.gone.includes("link")} />
        );
    }
    if (act === "charge") return <OnCharger />;
    if (act === "lift" || act === "lower") {
      const bare: Stand = {
        ...s,
        on: [],
        aside: [],
        holdDown: false,
        tube: false,
        strap: false,
        cap: false,
        sensor: false,
        keepAlive: false,
      };
      return <Moving s={bare} lower={act === "lower"} tray={act === "lower" ? "its tray" : "out of its tray"} handle />;
    }
    return (
      <>
        {draw.view === "bench" && (
          <g>
            <path d="M40 252V276H360V252" fill="none" stroke={SOFT} strokeWidth="3" />
            <text x="200" y="294" textAnchor="middle" {...word} fill={SOFT}>
              catch tray
            </text>
          </g>
        )}
        <g transform={draw.view === "bench" ? "translate(0 -20)" : undefined}>
          <BatteryFigure s={s}>
            <Doing s={s} act={act} on={on} volts={guide.what === "clean" && step.code === "after" ? "0.0" : "0.6"} />
          </BatteryFigure>
        </g>
      </>
    );
  };
  return (
    <svg
      viewBox="0 0 400 300"
      className={className}
      role="img"
      aria-label={`Drawn: ${step.do}`}
      data-view={draw.view}
      data-act={act}
      data-on={on}
    >
      {inside()}
    </svg>
  );
}
