import { useMutation, useQuery, useQueryClient } from "@tanstack/react-query";
import { useState, type ReactNode } from "react";
import { Link, useNavigate, useParams, useSearchParams } from "react-router";
import { v7 as uuid } from "uuid";
import { api, got, Refused, type Choices, type SeasonBody, type Stored } from "../../lib/api";
import { say } from "../../lib/notices";
import { showStored, useChoices, usePerson, useSeason, useSeasonPlan, useStored } from "../../lib/queries";
import { useSettled } from "../../lib/settled";
import { fromScale, readNumber, toScale, unitOf, type Scale } from "../../lib/units";
import { PickAny, PickOne } from "../../parts/Chips";
import { Entry } from "../../parts/Entry";
import { Failure, Loading } from "../../parts/Failure";
import { Sign } from "../../parts/Sign";
import { inkOf, toneOf } from "./scale";
import { Ways } from "./Ways";
import { Winter } from "./Winter";

type Draft = Record<string, string> & { hand: string };

/** Puts a battery away, or changes how it is kept: what becomes of it is drawn while it is said. */
export function PutAway() {
  const { id } = useParams();
  const [params] = useSearchParams();
  const job = params.get("job") ?? "";
  const season = useSeason();
  const choices = useChoices();
  const stored = useStored(id ?? "");
  const proposed = useQuery({
    queryKey: ["season", "of", job],
    queryFn: () => got(api.GET("/api/jobs/{id}/season", { params: { path: { id: job } } })),
    enabled: job !== "",
  });
  const scale = usePerson().temperature;
  const failed = season.error ?? choices.error ?? stored.error ?? proposed.error;
  const ready = season.data && choices.data && (!id || stored.data) && (!job || proposed.data);
  if (!ready) {
    if (failed) return <Failure error={failed} retry={() => void season.refetch()} />;
    return <Loading what="the season" />;
  }
  if (proposed.data?.stored_as)
    return (
      <div className="mx-auto max-w-[720px] px-4 py-8">
        <h1 className="tight text-[30px] font-[780]">{proposed.data.doc.battery.tag} stands already.</h1>
        <Link className="btn btn-act mt-4" to={`/season/${proposed.data.stored_as}`}>
          See its season
        </Link>
      </div>
    );
  const doc = stored.data?.doc ?? proposed.data?.doc;
  return (
    <Form
      season={season.data!}
      choices={choices.data!}
      was={doc}
      known={proposed.data?.known ?? []}
      changing={id ? { id, version: stored.data!.line.version } : undefined}
      start={draftOf(doc, season.data!, scale)}
    />
  );
}

const text = (v: number | string | undefined) => (v === undefined ? "" : String(v).replace("-", "−"));

function draftOf(d: Stored | undefined, season: SeasonBody, scale: Scale): Draft {
  const spring = () => {
    const year = Number(season.today.slice(0, 4));
    return season.today < `${year}-03-01` ? `${year}-04-01` : `${year + 1}-04-01`;
  };
  return {
    tag: d?.battery.tag ?? season.next_tag,
    name: d?.vehicle.name ?? "",
    class: d?.vehicle.class ?? "",
    chemistry: d?.battery.chemistry ?? "",
    ah: text(d?.battery.rating?.ah_20h),
    cca: text(d?.battery.rating?.cca),
    soc: text(d?.start.soc_pct ?? 100),
    health: text(d?.start.health_pct ?? 100),
    from: d?.from ?? season.today,
    to: d?.to ?? spring(),
    drain: text(d?.drain_ma),
    hand: (d?.at_hand ?? ["mains"]).join(" "),
    watts: text(d?.solar?.watts ?? 10),
    latitude: text(d?.solar?.latitude_deg),
    indoors: d?.indoors_c === undefined ? "" : text(Math.round(toScale(d.indoors_c, scale))),
    drive: d?.may_drive === undefined ? "" : d.may_drive ? "yes" : "no",
    ready: d?.ready_any_day ? "yes" : "",
    kind: d?.maintainer?.kind ?? "",
    amps: text(d?.maintainer?.amps),
    float: text(d?.maintainer?.volts_float),
    made_for: d?.maintainer?.for_chemistry ?? "",
    socket: d?.maintainer?.through_socket ? "yes" : "",
    live: d?.maintainer?.socket_live === undefined ? "" : d.maintainer.socket_live ? "yes" : "no",
    fuse: text(d?.maintainer?.fuse_amps),
    outdoors: d?.maintainer?.outdoors ? "yes" : "",
    rain: d?.maintainer?.rain_proof ? "yes" : "",
    lot: d?.lot ?? "",
    row: d?.row ?? "",
    bay: text(d?.bay),
    promised: d?.promised ?? "",
    arrived: d?.arrived ?? "",
    note: d?.note ?? "",
    way: d?.way ?? "",
  };
}

const roads = ["car", "van", "motorcycle", "hybrid", "electric", "classic", "motorhome"];

/** The document that is sent; what is no number goes as it is, so that the server names the field. */
function documentOf(t: Draft, was: Stored | undefined, choices: Choices, way: string, scale: Scale) {
  const number = (v: string | undefined) => (v?.trim() ? (readNumber(v) ?? v) : undefined);
  const usual = choices.classes.find((c) => c.class === t.class);
  const rating = { ...was?.battery.rating, ah_20h: number(t.ah), cca: number(t.cca) };
  const given = rating.ah_20h !== undefined || rating.cca !== undefined;
  const hand = t.hand.split(" ").filter(Boolean);
  const indoors = number(t.indoors);
  return clean({
    vehicle: { ...usual?.vehicle, ...was?.vehicle, class: t.class, name: t.name },
    battery: {
      ...was?.battery,
      tag: t.tag,
      chemistry: t.chemistry || usual?.battery.chemistry,
      rating: given ? rating : (was?.battery.rating ?? usual?.battery.rating ?? {}),
    },
    start: { ...was?.start, soc_pct: number(t.soc), health_pct: number(t.health) },
    from: t.from,
    to: t.to,
    drain_ma: number(t.drain),
    at_hand: hand.length === 0 ? ["nothing"] : hand,
    solar: hand.includes("solar") ? { watts: number(t.watts), latitude_deg: number(t.latitude) } : undefined,
    indoors_c: hand.includes("indoors") && typeof indoors === "number" ? fromScale(indoors, scale) : indoors,
    may_drive: t.drive === "" ? undefined : t.drive === "yes",
    ready_any_day: t.ready === "yes" || undefined,
    maintainer:
      t.kind && t.amps?.trim()
        ? {
            kind: t.kind,
            amps: number(t.amps),
            volts_float: number(t.float),
            for_chemistry: t.made_for || undefined,
            through_socket: t.socket === "yes" || undefined,
            socket_live: t.socket === "yes" && t.live ? t.live === "yes" : undefined,
            fuse_amps: t.socket === "yes" ? number(t.fuse) : undefined,
            outdoors: t.outdoors === "yes" || undefined,
            rain_proof: t.rain === "yes" || undefined,
          }
        : undefined,
    way,
    lot: t.lot || undefined,
    row: t.row || undefined,
    bay: number(t.bay),
    promised: t.promised || undefined,
    arrived: t.arrived || undefined,
    note: t.note || undefined,
  });
}

/** A document without what was not said. */
const clean = (doc: object): object => JSON.parse(JSON.stringify(doc)) as object;

/** What of a stored battery is asked of its season. */
function requestOf(doc: object) {
  const { lot, row, bay, promised, arrived, note, way, ...rest } = doc as Record<string, unknown>;
  void [lot, row, bay, promised, arrived, note, way];
  return { format: "grapnel.season_request/1", ...rest };
}

function Form(props: {
  season: SeasonBody;
  choices: Choices;
  was: Stored | undefined;
  known: string[];
  changing: { id: string; version: number } | undefined;
  start: Draft;
}) {
  const { season, choices, changing } = props;
  const scale = usePerson().temperature;
  const [t, setT] = useState(props.start);
  const [id] = useState(() => changing?.id ?? uuid());
  const [picked, setPicked] = useState(props.start.way === "connected" && !changing ? "" : (props.start.way ?? ""));
  const [more, setMore] = useState(Boolean(changing));
  const queries = useQueryClient();
  const go = useNavigate();
  const set = (name: string) => (value: string) => setT((now) => ({ ...now, [name]: value }));
  const usual = choices.classes.find((c) => c.class === t.class);
  const request = t.class ? requestOf(documentOf(t, props.was, choices, "", scale)) : undefined;
  const settled = useSettled(request && JSON.stringify(request), 200);
  const plan = useSeasonPlan(settled ? (JSON.parse(settled) as object) : undefined);
  const shown = plan.data?.ways.find((w) => w.way === picked) ?? plan.data?.ways[0];
  const save = useMutation({
    mutationFn: (same: boolean) => {
      const doc = documentOf(t, props.was, choices, shown!.way, scale) as unknown as string;
      return changing
        ? got(
            api.PUT("/api/season/{id}", {
              params: { path: { id }, query: { version: changing.version } },
              body: doc,
            }),
          )
        : got(
            api.POST("/api/season/{id}", {
              params: { path: { id }, query: same ? { same_battery: true } : {} },
              body: doc,
            }),
          );
    },
    onSuccess: (body) => {
      showStored(queries, body);
      void queries.invalidateQueries({ queryKey: ["choices"] });
      void go(`/season/${body.line.id}`, { replace: true });
      say({ text: changing ? `${body.line.tag} changed.` : `${body.line.tag} is put away.`, kind: "ok" });
    },
  });
  const error = save.error ?? plan.error;
  const hand = t.hand.split(" ").filter(Boolean);
  return (
    <form
      className="mx-auto grid max-w-[1320px] gap-x-8 gap-y-4 px-4 py-3 md:px-6 lg:grid-cols-[400px_minmax(0,1fr)]"
      onSubmit={(e) => {
        e.preventDefault();
        if (shown) save.mutate(false);
      }}
    >
      <div className="min-w-0">
        <h1 className="tight text-[30px] leading-none font-[780]">{changing ? `Change ${t.tag}` : "Put one away"}</h1>
        {props.known.map((k) => (
          <p key={k} className="mt-1 text-soft">
            {k}
          </p>
        ))}
        <Part name="What stands">
          <PickOne
            label="Class"
            chips={choices.classes.map((c) => ({ code: c.class, word: c.word }))}
            value={t.class}
            first={!t.class}
            row
            onPick={(c) =>
              setT((now) => ({
                ...now,
                class: c,
                chemistry: now.chemistry || "",
                ah: now.ah || "",
                cca: now.cca || "",
              }))
            }
          />
          <div className="mt-2 grid grid-cols-[1fr_1.6fr] gap-2">
            <Entry name="Tag" value={t.tag ?? ""} onChange={set("tag")} disabled={Boolean(changing)} />
            <Entry name="Vehicle" value={t.name ?? ""} onChange={set("name")} />
          </div>
          <div className="mt-2 grid grid-cols-3 gap-2">
            <Entry
              name="Ah"
              inputMode="decimal"
              value={t.ah ?? ""}
              onChange={set("ah")}
              placeholder={text(usual?.battery.rating?.ah_20h)}
            />
            <Entry
              name="CCA"
              inputMode="decimal"
              value={t.cca ?? ""}
              onChange={set("cca")}
              placeholder={text(usual?.battery.rating?.cca)}
            />
            <Entry name="Cranks, %" inputMode="decimal" value={t.health ?? ""} onChange={set("health")} />
          </div>
          <div className="mt-2">
            <PickOne
              label="Build"
              chips={(season.words.chemistry ?? []).map((c) => ({ code: c.code, word: c.word }))}
              value={t.chemistry || usual?.battery.chemistry}
              row
              onPick={set("chemistry")}
            />
          </div>
        </Part>
        <Part name="From when to when">
          <div className="grid grid-cols-2 gap-2">
            <Entry name="From" type="date" value={t.from ?? ""} onChange={set("from")} />
            <Entry name="Wanted again" type="date" value={t.to ?? ""} onChange={set("to")} />
          </div>
          <div className="mt-2 grid grid-cols-2 gap-2">
            <Entry name="Charged, %" inputMode="decimal" value={t.soc ?? ""} onChange={set("soc")} />
            <Entry
              name="Drain, mA"
              inputMode="decimal"
              value={t.drain ?? ""}
              onChange={set("drain")}
              placeholder="typical"
            />
          </div>
        </Part>
        <Part name="What is at hand">
          <PickAny
            label="At hand"
            chips={(season.words.at_hand ?? []).filter((h) => h.code !== "nothing")}
            value={hand}
            onPick={(codes) => set("hand")(codes.join(" "))}
          />
          <div className="mt-2 grid grid-cols-2 gap-2">
            {hand.includes("solar") && (
              <>
                <Entry name="Panel, W" inputMode="decimal" value={t.watts ?? ""} onChange={set("watts")} />
                <Entry
                  name="Latitude, ° north"
                  inputMode="decimal"
                  value={t.latitude ?? ""}
                  onChange={set("latitude")}
                  placeholder="55"
                />
              </>
            )}
            {hand.includes("indoors") && (
              <Entry
                name={`Shelf, ${unitOf("°C", scale)}`}
                inputMode="text"
                value={t.indoors ?? ""}
                onChange={set("indoors")}
                placeholder={text(Math.round(toScale(10, scale)))}
              />
            )}
          </div>
        </Part>
        <button type="button" className="btn btn-quiet mt-1 -ml-2" aria-expanded={more} onClick={() => setMore(!more)}>
          {more ? "Less" : "More: its maintainer, a yard, a promise"}
        </button>
        {more && (
          <>
            <Part name="Asked of it">
              <Toggles
                t={t}
                set={set}
                of={[
                  ["ready", "Has to start on any day"],
                  ...(roads.includes(t.class ?? "") ? ([["drive", "May go on the road", "no"]] as const) : []),
                ]}
              />
            </Part>
            <Part name="Its own maintainer, or what is left on it">
              <PickOne
                label="Kind"
                chips={[{ code: "none", word: "None" }, ...(season.words.kinds ?? [])]}
                value={t.kind || "none"}
                onPick={(k) => set("kind")(k === "none" ? "" : k)}
              />
              {t.kind && (
                <>
                  <div className="mt-2 grid grid-cols-3 gap-2">
                    <Entry name="Amps" inputMode="decimal" value={t.amps ?? ""} onChange={set("amps")} />
                    <Entry name="Holds, V" inputMode="decimal" value={t.float ?? ""} onChange={set("float")} />
                    {t.socket === "yes" && (
                      <Entry name="Fuse, A" inputMode="decimal" value={t.fuse ?? ""} onChange={set("fuse")} />
                    )}
                  </div>
                  <div className="mt-2">
                    <Toggles
                      t={t}
                      set={set}
                      of={[
                        ["socket", "Through the vehicle’s socket"],
                        ...(t.socket === "yes" ? ([["live", "Live with the key out", "no"]] as const) : []),
                        ["outdoors", "Outdoors"],
                        ...(t.outdoors === "yes" ? ([["rain", "Made for rain"]] as const) : []),
                      ]}
                    />
                  </div>
                </>
              )}
            </Part>
            <Part name="Where, on a lot">
              <div className="grid grid-cols-[1.6fr_1fr_1fr] gap-2">
                <Entry name="Lot" value={t.lot ?? ""} onChange={set("lot")} list="lots" />
                <Entry name="Row" value={t.row ?? ""} onChange={set("row")} />
                <Entry name="Place" inputMode="numeric" value={t.bay ?? ""} onChange={set("bay")} />
              </div>
              <datalist id="lots">
                {season.lots.map((l) => (
                  <option key={l} value={l} />
                ))}
              </datalist>
              <div className="mt-2 grid grid-cols-2 gap-2">
                <Entry name="Promised for" type="date" value={t.promised ?? ""} onChange={set("promised")} />
                <Entry name="Came on" type="date" value={t.arrived ?? ""} onChange={set("arrived")} />
              </div>
              <div className="mt-2">
                <Entry name="Note on its tag" value={t.note ?? ""} onChange={set("note")} />
              </div>
            </Part>
          </>
        )}
      </div>
      <div className="min-w-0 lg:sticky lg:top-16 lg:self-start">
        {!t.class && (
          <p className="mt-2 border-l-4 border-slate bg-card px-4 py-3">
            Pick what it is for: its winter is drawn at once, with what is usual for its class.
          </p>
        )}
        {plan.data && shown && (
          <div className={plan.isPlaceholderData ? "opacity-60" : ""}>
            <p
              className={`flex items-start gap-2 text-[24px] leading-[1.15] font-[770] ${inkOf[shown.sign]}`}
              role="status"
            >
              <span className="mt-1.5">
                <Sign kind={toneOf[shown.sign]} />
              </span>
              {shown.says}
            </p>
            <p className="mt-0.5 mb-2 text-soft">{plan.data.why}</p>
            <Winter plan={plan.data} way={shown} today={t.from ?? ""} margin={season.margin_c} looks={[]} planned />
            <h2 className="cap mt-3 mb-1.5">Ways of keeping it</h2>
            <Ways
              plan={plan.data}
              kept={changing ? (props.start.way ?? "") : ""}
              shown={shown.way}
              onShow={setPicked}
            />
            {plan.data.maintainer && (
              <ul className="mt-3 border-b border-line" aria-label="The maintainer">
                {plan.data.maintainer.lines
                  .filter((l) => !l.ok || l.unsure)
                  .map((l) => (
                    <li key={l.rule} className="flex min-h-11 items-center gap-2.5 border-t border-line py-1.5">
                      <Sign kind={l.unsure ? "note" : "stop"} />
                      {l.text}
                    </li>
                  ))}
              </ul>
            )}
          </div>
        )}
        {error && (
          <p role="alert" className="mt-3 border-l-4 border-oxide bg-card px-3 py-2 whitespace-pre-line text-oxide">
            {error.message}
          </p>
        )}
        {save.error instanceof Refused && save.error.knownTag && !changing && (
          <button type="button" className="btn btn-line mt-2" onClick={() => save.mutate(true)}>
            It is the same battery
          </button>
        )}
        <div className="openbar sticky bottom-[var(--strip-h)] z-10 lg:static -mx-4 mt-4 flex flex-wrap gap-3 border-t border-line bg-paper px-4 py-2.5 md:mx-0 md:px-0">
          <button className="btn btn-act max-md:flex-1" data-saves disabled={!shown || save.isPending}>
            {save.isPending ? "Saving …" : changing ? "Save the change" : "Put it away so"} <kbd>Ctrl Enter</kbd>
          </button>
          <Link className="btn btn-line" to={changing ? `/season/${changing.id}` : "/season"}>
            Cancel
          </Link>
        </div>
      </div>
    </form>
  );
}

function Part({ name, children }: { name: string; children: ReactNode }) {
  return (
    <fieldset className="mt-4 min-w-0">
      <legend className="cap mb-1">{name}</legend>
      {children}
    </fieldset>
  );
}

/** What is so or not; where a third is said, the answer no is kept too. */
function Toggles(props: {
  t: Draft;
  set: (name: string) => (value: string) => void;
  of: (readonly [string, string] | readonly [string, string, "no"])[];
}) {
  return (
    <div className="flex flex-wrap gap-2">
      {props.of.map(([name, word, no]) => {
        const on = props.t[name] === "yes";
        return (
          <button
            key={name}
            type="button"
            aria-pressed={on}
            onClick={() => props.set(name)(on ? (no ?? "") : "yes")}
            className={`min-h-12 rounded-sm border-[1.5px] px-3 text-[15px] font-[540] ${on ? "border-ink bg-ink text-paper" : "border-line bg-card hover:border-soft"}`}
          >
            {word}
          </button>
        );
      })}
    </div>
  );
}
