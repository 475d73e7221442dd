import { useQuery } from "@tanstack/react-query";
import Button from "react-bootstrap/Button";
import { Link, useParams } from "react-router";
import { PageHead } from "../../app/PageHead";
import { usePageKeys } from "../../app/shortcuts";
import { body, GET, type Schemas } from "../../shared/api/client";
import { day, exposure, LANE_NAMES, millilitres, plural, POLICY_NAMES, signed, size, THIN, threeDigits } from "../../shared/format";
import { Loaded } from "../../shared/Loading";
import { MiniStrip } from "../../shared/strip/MiniStrip";
import "./sets.scss";

type Card = Schemas["SetCard"];

export default function SetPage() {
  const { code = "" } = useParams();
  const query = useQuery({
    queryKey: ["set", code],
    queryFn: () => body(GET("/api/sets/{id_or_code}", { params: { path: { id_or_code: code } } })),
  });
  usePageKeys([{ keys: "p", does: "print the card", run: () => window.print() }]);
  return (
    <Loaded query={query}>
      {(card) => (
        <>
          <PageHead title={`Parameter set ${card.code}`} sub={`version ${card.version}${card.newest ? "" : ", superseded"}`}>
            <Link className="btn btn-quiet" to={`/calibrate/${card.calibration_id}`}>
              Evidence: {card.calibration_code}
            </Link>
            <Button onClick={() => window.print()}>Print the card</Button>
          </PageHead>
          {!card.newest && (
            <p className="caution">
              A later version is issued: <Link to={`/sets/${card.versions[0]![1]}`}>{card.versions[0]![1]}</Link>.
            </p>
          )}
          <SetCard card={card} />
        </>
      )}
    </Loaded>
  );
}

/** Every setting to type into a slicing program, in the order people meet them, with its limits and evidence. */
function SetCard({ card }: { card: Card }) {
  const { settings, window: result } = card;
  const window = result.window!;
  const axis: [number, number] = [Math.min(window.lower_s, result.ladder_s![0]) / 1.1, Math.max(window.upper_s, result.ladder_s![1]) * 1.1];
  const lines: [string, string][] = [
    ["Layer height", `${card.layer_height_um / 1000}${THIN}mm`],
    ["Exposure", `${exposure(card.exposure_s, card.exposure_step_s)}${THIN}s`],
    ["Light power", `${settings.light_power_pct}${THIN}%`],
    ["Base layers", `${settings.base_layers}`],
    ["Base exposure", `${settings.base_exposure_s}${THIN}s`],
    ["Transition layers", `${settings.transition_layers}`],
    [card.rest_is_delay ? "Delay before exposure" : "Rest before exposure", `${settings.rest_before_s}${THIN}s`],
    ["Rest after lift", `${settings.rest_after_lift_s}${THIN}s`],
    ["Rest after retract", `${settings.rest_after_retract_s}${THIN}s`],
    ["Lift and retract distance", `${settings.lift_mm}${THIN}mm`],
    ["Lift speed", `${settings.lift_mm_min}${THIN}mm/min`],
    ["Retract speed", `${settings.retract_mm_min}${THIN}mm/min`],
    ["Anti-aliasing", settings.anti_aliasing ? `${settings.anti_aliasing}×` : "off"],
  ];
  if (card.growth_um !== null) lines.push(["Size compensation per edge", `~${signed(-card.growth_um)}${THIN}µm`]);
  if (result.scale_error_pct !== null) lines.push(["Scale for shrinkage", `~${(100 / (1 + result.scale_error_pct / 100)).toFixed(2)}${THIN}%`]);
  return (
    <article className="panel set-card" aria-label={`Card of ${card.code}`}>
      <div className="head">
        <div>
          <h2 className="fs-3 mb-1">
            {card.material} on {card.printer}
          </h2>
          <div>
            {card.maker && `${card.maker} · `}
            {card.layer_height_um}
            {THIN}µm · {POLICY_NAMES[card.policy]}
          </div>
          <div className="text-secondary">
            {card.code}, version {card.version} · issued {day(card.issued_at)} by <span className="num">{card.initials}</span>
          </div>
        </div>
        <div className="exposure">
          {exposure(card.exposure_s, card.exposure_step_s)}
          <small>{THIN}s</small>
        </div>
      </div>
      <MiniStrip axis={axis} window={[window.lower_s, window.upper_s]} exposure={card.exposure_s} labelled />
      <p className="mb-3">
        Window <span className="num">{threeDigits(window.lower_s)}</span> ({LANE_NAMES[window.lower_from]?.toLowerCase()}) to <span className="num">{threeDigits(window.upper_s)}</span>
        {THIN}s ({LANE_NAMES[window.upper_from]?.toLowerCase()}), latitude {window.latitude_pct.toFixed(0)}
        {THIN}%
      </p>
      <div className="columns">
        <section aria-label="Settings">
          <h3>Settings</h3>
          <table>
            <tbody>
              {lines.map(([name, value]) => (
                <tr key={name}>
                  <td>{name}</td>
                  <td>{value}</td>
                </tr>
              ))}
            </tbody>
          </table>
          {card.rest_is_delay && <p className="small text-secondary mt-2 mb-0">This printer’s delay counts from the start of motion.</p>}
        </section>
        <section aria-label="Limits">
          <h3>Valid for</h3>
          <table>
            <tbody>
              <tr>
                <td>Bottle</td>
                <td>{card.bottle ?? "not noted"}</td>
              </tr>
              {card.bottle_left_ml !== null && (
                <tr>
                  <td>Left in it</td>
                  <td>{millilitres(card.bottle_left_ml)}</td>
                </tr>
              )}
              <tr>
                <td>Temperature</td>
                <td>{card.temp_low_c !== null && card.temp_high_c !== null ? `${card.temp_low_c}–${card.temp_high_c}${THIN}°C` : "not noted"}</td>
              </tr>
              <tr>
                <td>Thinnest tip proven</td>
                <td>{card.tip_proven_mm !== null ? `${size(card.tip_proven_mm)}${THIN}mm` : "none"}</td>
              </tr>
            </tbody>
          </table>
          <h3 className="mt-3">Finish</h3>
          {card.finish_route ? (
            <>
              <p className="mb-1">{card.finish_route}</p>
              <ol className="ps-3 mb-0">
                {card.finish_steps.map((step) => (
                  <li key={step}>{step}</li>
                ))}
              </ol>
            </>
          ) : (
            <p className="mb-0">not noted</p>
          )}
          <h3 className="mt-3">Why</h3>
          <p className="mb-0">{card.reason}</p>
        </section>
      </div>
      <p className="caution mt-3">Gloves, eye protection and ventilation with uncured resin; solvent away from heat and sparks; never look into the curing lamp. The safety sheet and local rules come first.</p>
      <p className="small mb-1">
        Evidence: {card.calibration_code}, {plural(card.coupons.length, "coupon")} ({card.coupons.join(", ")}). Computed by Setback {card.core_version}.
      </p>
      <p className="hash mb-0">SHA-256 {card.hash}</p>
    </article>
  );
}
