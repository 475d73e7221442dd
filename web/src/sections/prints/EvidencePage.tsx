import { Link, useSearchParams } from "react-router";
import { PageHead } from "../../app/PageHead";
import { SectionTabs } from "../../shared/SectionTabs";
import type { Schemas } from "../../shared/api/client";
import { useGet } from "../../shared/api/useGet";
import { EmptyState } from "../../shared/EmptyState";
import { Choice } from "../../shared/fields/Choice";
import { NumberField } from "../../shared/fields/NumberField";
import { chance, decimal, percent, plural, THIN, threeDigits } from "../../shared/format";
import { SuccessOverTime } from "../../shared/plot/SuccessOverTime";
import { thousands } from "../../shared/labForm";
import { Loaded } from "../../shared/Loading";
import { CurvePlot } from "../../shared/plot/CurvePlot";
import { zip } from "../../shared/plot/scale";
import { LOG_TABS } from "./tabs";
import "../../shared/plate/plate.scss";
import "./log.scss";

type Evidence = Schemas["PrintEvidence"];
type Success = Schemas["PrintSuccessResult"];

/** What the prints of a material on a printer tell: success against exposure, what else mattered, and where parts fail. */
export default function EvidencePage() {
  const [search, setSearch] = useSearchParams();
  const materials = useGet("/api/printed-parts", {}, { select: (answer) => answer.items });
  const set = (changes: Record<string, string>) =>
    setSearch((before) => ({ ...Object.fromEntries(before), ...changes }), { replace: true });
  const pairs = materials.data ?? [];
  const pair =
    pairs.find((one) => one.material_id === search.get("material") && one.printer_id === search.get("printer")) ??
    pairs[0];
  const target = Number(search.get("target") ?? 95);
  const fits = target > 50 && target < 100;
  const query = useGet(
    "/api/materials/{material_id}/print-evidence",
    pair && fits
      ? {
          params: {
            path: { material_id: pair.material_id },
            query: { printer: pair.printer_id, layer_height_um: pair.layer_height_um, target: target / 100 },
          },
        }
      : null,
  );
  return (
    <>
      <PageHead title="What prints tell" sub="success of real parts, from the log" />
      <SectionTabs name="Log" tabs={LOG_TABS} />
      {materials.data && !pair ? (
        <EmptyState purpose="Prints of parts with their exposure show from which light on parts come out whole, without a coupon." />
      ) : (
        <>
          <div className="log-filters">
            <Choice
              label="Prints of"
              value={pair ? keyOf(pair) : ""}
              onChange={(key) => {
                const chosen = pairs.find((one) => keyOf(one) === key);
                if (chosen) set({ material: chosen.material_id, printer: chosen.printer_id });
              }}
              options={pairs.map((one) => [
                keyOf(one),
                `${one.material} on ${one.printer}, ${one.layer_height_um} µm: ${thousands(one.prints)} ${one.prints === 1 ? "print" : "prints"}`,
              ])}
            />
            <NumberField
              label="Parts that should be whole"
              unit="%"
              value={target}
              onChange={(value) => value !== null && set({ target: String(value) })}
              error={fits ? undefined : "From 50 to 100 %."}
            />
          </div>
          {pair && fits && (
            <Loaded query={query}>
              {(held) => (
                <div className="d-grid gap-3">
                  <Told held={held} target={target} />
                  <SuccessOverTime material={pair.material_id} printer={pair.printer_id} />
                  <p>
                    <Link
                      className="btn btn-outline-primary"
                      to={`/calibrate/new?by=prints&material=${pair.material_id}&printer=${pair.printer_id}&height=${pair.layer_height_um}`}
                    >
                      Calibrate by prints like these
                    </Link>
                  </p>
                </div>
              )}
            </Loaded>
          )}
        </>
      )}
    </>
  );
}

const keyOf = (pair: Schemas["PrintedPair"]) => `${pair.material_id} ${pair.printer_id} ${pair.layer_height_um}`;

function Told({ held, target }: { held: Evidence; target: number }) {
  const { success } = held;
  if (!success) return <p className="panel text-secondary">No print of parts has an exposure.</p>;
  return (
    <div className="d-grid gap-3">
      <section className="panel" aria-label="Success against exposure">
        <Headline success={success} prints={held.prints} />
        {success.warnings.map((one) => (
          <p key={one.code} className="caution mb-1">
            {one.message}
          </p>
        ))}
        <Curve success={success} target={target} of={`${held.material} on ${held.printer}`} />
        {held.notices.map((one) => (
          <p key={one.code} className="small text-secondary mb-0">
            {one.message}
          </p>
        ))}
      </section>
      <Effects success={success} />
      {held.places && <Places places={held.places} />}
    </div>
  );
}

function Headline({ success, prints }: { success: Success; prints: number }) {
  const { advice } = success;
  const [whole, told] = [sum(success, ["whole"]), sum(success, ["whole", "under", "over"])];
  const all = `${whole} of ${plural(told, "part")} that tell of light came out whole, in ${plural(prints, "print")}.`;
  if (!advice) return <p>{all}</p>;
  const same = Math.abs(advice.to_s / advice.from_s - 1) < 0.01;
  return (
    <p>
      {same ? (
        <>
          <b className="key-number">Stay at {threeDigits(advice.from_s)} s</b>: about {chance(advice.share)} whole
        </>
      ) : (
        <>
          <b className="key-number">
            {advice.to_s > advice.from_s ? "Raise" : "Lower"} to {threeDigits(advice.to_s)} s
          </b>
          : from {chance(advice.from_share)} to about {chance(advice.share)} whole
        </>
      )}{" "}
      ({decimal(100 * advice.ci[0], 0)}–{decimal(100 * advice.ci[1], 0)}). {all}
    </p>
  );
}

const sum = (success: Success, names: ("whole" | "under" | "over")[]) =>
  success.seen.reduce((total, one) => total + names.reduce((here, name) => here + one[name], 0), 0);

function Curve({ success, target, of }: { success: Success; target: number; of: string }) {
  const { curve, exposure_for: lower, upper, seen } = success;
  const ends = lower && {
    at: lower.exposure_s,
    interval: lower.ci_s[0] !== null && lower.ci_s[1] !== null ? (lower.ci_s as [number, number]) : null,
    words: `${threeDigits(lower.exposure_s)} s`,
  };
  const tells = seen.filter((one) => one.whole + one.under + one.over > 0);
  // One exposure is a number, not a curve.
  if (tells.length < 2) return null;
  return (
    <>
      <div className="position-relative pt-4">
        <CurvePlot
          name={`Whole parts of ${of}`}
          across="s of normal exposure"
          up="of parts whole"
          shown={percent}
          range={{ from: 0, to: 1 }}
          points={tells.map((one) => ({
            x: one.exposure_s,
            y: one.whole / (one.whole + one.under + one.over),
            name: `${one.whole} of ${one.whole + one.under + one.over}`,
            hollow: true,
          }))}
          lines={curve ? [{ points: zip(curve.exposure_s, curve.whole) }] : []}
          band={
            curve ? zip(curve.exposure_s, curve.low, curve.high).map(([x, low, high]) => ({ x, low, high })) : undefined
          }
          level={{ at: target / 100, words: `${decimal(target, 0)} % wanted` }}
          mark={ends ?? undefined}
        />
      </div>
      <p className="small text-secondary">
        Hollow: parts that were printed, those that failed for another reason left out. Line and band: the chance of a
        whole part with its 95{THIN}% limits, everything else as usual.
        {upper &&
          ` From ${threeDigits(upper.exposure_s)} s on fewer than ${decimal(target, 0)} % come out whole: too much light.`}
      </p>
    </>
  );
}

function Effects({ success }: { success: Success }) {
  const effects = success.effects.filter((one) => one.factor !== "exposure");
  if (!effects.length && !success.confounded.length) return null;
  return (
    <section className="panel" aria-label="What else mattered">
      <h2>What else mattered</h2>
      <ul className="plain-list">
        {effects.map((one) => (
          <li key={`${one.factor} ${one.side}`}>
            <b>{one.factor}</b>, {one.per}:{" "}
            {one.shown ? (
              <>
                {one.odds_ratio > 1 ? "fewer" : "more"} with too {one.side === "under" ? "little" : "much"} light, odds
                ×<span className="num">{roughlyOdds(one.odds_ratio)}</span> ({roughlyOdds(one.ci[0])}–
                {roughlyOdds(one.ci[1])})
              </>
            ) : (
              <span className="text-secondary">
                no effect shown on too {one.side === "under" ? "little" : "much"} light
              </span>
            )}
          </li>
        ))}
        {success.confounded.map((one) => (
          <li key={one.factors.join(" ")} className={one.r === null ? "text-secondary" : "found"}>
            {one.r === null
              ? `${one.factors[0]}: always the same, so nothing can be said of it.`
              : `▲ ${one.factors.join(" and ")} moved together (r = ${decimal(one.r, 2)}): what either did cannot be told.`}
          </li>
        ))}
      </ul>
    </section>
  );
}

const roughlyOdds = (value: number) => (value >= 10 ? decimal(value, 0) : decimal(value, value < 1 ? 2 : 1));

function Places({ places }: { places: Schemas["FailurePlacesResult"] }) {
  const most = Math.max(...places.cells.map((one) => (one.parts ? one.failed / one.parts : 0)), 0.01);
  return (
    <section className="panel" aria-label="Failures by place">
      <h2>Where on the plate parts fail</h2>
      <p>
        {places.p === null
          ? places.warnings[0]?.message
          : places.shown && places.worst
            ? `${WHERE[places.worst.row]?.[places.worst.column]}: ${places.worst.failed} failed where chance gives ${decimal(places.worst.expected, 0)} (p = ${decimal(places.p, 3)}). Look at screen, film and plate there before exposure.`
            : `No place fails more often than chance gives (p = ${decimal(places.p, 2)}, ${plural(places.prints, "print")}).`}
      </p>
      <svg
        className="plate-drawing failures"
        viewBox="0 0 153 87"
        role="img"
        aria-label="Failed parts of those printed, by ninths of the plate"
      >
        <rect className="bed" width={153} height={87} rx={2} />
        {places.cells.map((one) => {
          const share = one.parts ? one.failed / one.parts : 0;
          return (
            <g key={`${one.column} ${one.row}`} transform={`translate(${one.column * 51} ${(2 - one.row) * 29})`}>
              <rect className="share" x={1} y={1} width={49} height={27} style={{ opacity: (0.75 * share) / most }} />
              <text x={25.5} y={18} textAnchor="middle" fontSize={9}>
                {one.parts ? `${one.failed} of ${one.parts}` : "–"}
              </text>
            </g>
          );
        })}
      </svg>
      <p className="small text-secondary mb-0">
        Seen from above, the front below: failed parts of those printed there.
      </p>
    </section>
  );
}

/** Rows count from the front. */
const WHERE = [
  ["Front left", "Front middle", "Front right"],
  ["Left", "Middle", "Right"],
  ["Back left", "Back middle", "Back right"],
];
