import { useState } from "react";
import Button from "react-bootstrap/Button";
import { Link, useParams, useSearchParams } from "react-router";
import { PageHead } from "../../app/PageHead";
import { usePageKeys } from "../../app/shortcuts";
import { type Schemas } from "../../shared/api/client";
import {
  day,
  exposure,
  laneName,
  millilitres,
  chance,
  percent,
  plural,
  POLICY_NAMES,
  THIN,
  threeDigits,
  trueMinus,
} from "../../shared/format";
import { Loaded } from "../../shared/Loading";
import { ExposureStrip } from "../../shared/strip/ExposureStrip";
import { MiniStrip } from "../../shared/strip/MiniStrip";
import { CardTools } from "./CardTools";
import { CompareSets } from "./CompareSets";
import { LifePanel } from "./LifePanel";
import { Carried } from "./Carried";
import { Qualified } from "./Qualified";
import "./sets.scss";
import { useGet } from "../../shared/api/useGet";

type Card = Schemas["SetCard"];

export default function SetPage() {
  const { code = "" } = useParams();
  const query = useGet("/api/sets/{id_or_code}", { params: { path: { id_or_code: code } } });
  const [search, setSearch] = useSearchParams();
  const other = search.get("with");
  const setOther = (held: string | null) => setSearch(held ? { with: held } : {}, { replace: true });
  usePageKeys([{ keys: "p", does: "print the card", run: () => window.print() }]);
  return (
    <Loaded page query={query}>
      {(card) => (
        <>
          <PageHead
            title={`Parameter set ${card.code}`}
            sub={`version ${card.version}${card.newest ? "" : ", superseded"}`}
          >
            <Link className="btn btn-quiet" to={`/calibrate/${card.calibration_id}`}>
              Evidence: {card.calibration_code}
            </Link>
            <Link className="btn btn-quiet" to={`/log/new?from=${card.code}`}>
              Start a print
            </Link>
            <CardTools card={card} onCompare={setOther} />
          </PageHead>
          {!card.newest &&
            card.versions.slice(0, 1).map(([, later]) => (
              <p key={later} className="caution">
                A later version is issued: <Link to={`/sets/${later}`}>{later}</Link>.
              </p>
            ))}
          {other && <CompareSets card={card} other={other} onClose={() => setOther(null)} />}
          <LifePanel code={card.code} />
          <Qualified code={card.code} />
          <SetCard card={card} />
          <Carried code={card.code} />
        </>
      )}
    </Loaded>
  );
}

/** Lines of the card that the page says in its own words. */
const SAID_ABOVE = [
  "Window",
  "Latitude",
  "All requirements hold with",
  "Window by",
  "Window from",
  "Parts printed",
  "Issued outside an offer",
];

const isSaidAbove = (name: string) => SAID_ABOVE.includes(name) || name.endsWith("whole with");

/** A set that prints of parts alone have shown: said before its numbers. */
function FromPrints({ card }: { card: Card }) {
  const behind = card.from_prints;
  if (!behind) return null;
  return (
    <p className="mb-2" data-notice="from-prints">
      <b>From prints.</b> {behind.whole} of {plural(behind.parts, "part")} came out whole, in{" "}
      {plural(behind.prints, "print")}; sizes, walls, slots and support tips were not measured.
    </p>
  );
}

/** Every setting to type into a slicing program, in the order people meet them, with its limits and evidence. */
function SetCard({ card }: { card: Card }) {
  const { window: result } = card;
  const { window } = result;
  const ends = [card.exposure_s, ...(result.ladder_s ?? []), ...(window ? [window.lower_s, window.upper_s] : [])];
  const axis: [number, number] = [Math.min(...ends) / 1.1, Math.max(...ends) * 1.1];
  return (
    <article className="panel set-card" aria-label={`Card of ${card.code}`}>
      <CardHead card={card} />
      <FromPrints card={card} />
      <MiniStrip
        axis={axis}
        window={window && [window.lower_s, window.upper_s]}
        exposure={card.exposure_s}
        fromPrints={card.from_prints !== null}
        labelled
      />
      {window && card.from_prints && (
        <p className="mb-2">
          Window <span className="num">{threeDigits(window.lower_s)}</span> to{" "}
          <span className="num">{threeDigits(window.upper_s)}</span>
          {THIN}s, inside what was printed
        </p>
      )}
      {window && !card.from_prints && (
        <p className="mb-2">
          Window <span className="num">{threeDigits(window.lower_s)}</span> (
          {laneName(result.lanes, window.lower_from).toLowerCase()}) to{" "}
          <span className="num">{threeDigits(window.upper_s)}</span>
          {THIN}s ({laneName(result.lanes, window.upper_from).toLowerCase()}), latitude{" "}
          {window.latitude_pct === null ? "not shown" : `${window.latitude_pct.toFixed(0)}${THIN}%`}
        </p>
      )}
      {!window && <p className="mb-2">The evidence made no window when this set was issued.</p>}
      {card.chance !== null && (
        <p className="mb-3">
          At {exposure(card.exposure_s, card.exposure_step_s)}
          {THIN}s{" "}
          {card.from_prints ? `${percent(card.from_prints.wanted)} of parts come out whole` : "all requirements hold"}{" "}
          with <b className="num">{chance(card.chance)}</b>.
        </p>
      )}
      {card.outside_reason && (
        <p className="trouble" data-notice="outside-offer">
          <b>Issued outside an offer; it never qualifies.</b> {card.outside_reason}
        </p>
      )}
      {card.earlier_method && <Anew card={card} />}
      <div className="columns">
        <section aria-label="Settings">
          <h3>Settings</h3>
          <Lines lines={card.lines.filter((line) => line.group === "Settings")} />
          {card.rest_is_delay && (
            <p className="small text-secondary mt-2 mb-0">This printer’s delay counts from the start of motion.</p>
          )}
        </section>
        <section aria-label="Limits">
          <h3>Valid for</h3>
          <Lines lines={card.lines.filter((line) => line.group === "Valid for" && !isSaidAbove(line.name))} />
          {card.bottle_left_ml !== null && (
            <p className="small text-secondary mb-0">{millilitres(card.bottle_left_ml)} left in the bottle</p>
          )}
          {card.usable_basis && <p className="small text-secondary mb-0">Usable plate by the {card.usable_basis}</p>}
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
      <p className="caution mt-3">
        Gloves, eye protection and ventilation with uncured resin; solvent away from heat and sparks; never look into
        the curing lamp. The safety sheet and local rules come first.
      </p>
      {card.confirmations.length > 0 && (
        <ul className="small mb-2" aria-label="Confirmations">
          {card.confirmations.map((one) => (
            <li key={one.code}>
              {one.finding ? "▲ finding" : "■ passed"}: {one.what}, {one.place} · {one.initials},{" "}
              {day(one.confirmed_at)}
            </li>
          ))}
        </ul>
      )}
      <p className="small mb-1 evidence">
        Evidence: <Link to={`/calibrate/${card.calibration_id}`}>{card.calibration_code}</Link>,{" "}
        {card.evidence.map((one, index) => (
          <span key={one.label}>
            {index > 0 && ", "}
            <Link to={one.link}>{one.label}</Link>
          </span>
        ))}
        . Computed by Setback {card.core_version}.
      </p>
      <p className="hash mb-0">SHA-256 {card.hash}</p>
    </article>
  );
}

/** A set issued by the method before chances keeps its window; its evidence can be looked at anew. */
function Anew({ card }: { card: Card }) {
  const [open, setOpen] = useState(false);
  const query = useGet(
    "/api/sets/{id_or_code}/anew",
    { params: { path: { id_or_code: card.code } } },
    { enabled: open },
  );
  return (
    <section className="caution" aria-label="Made by the earlier method">
      <p className="mb-2">
        This window was made by the earlier method, which knew no chances and whose ends were surer than the evidence.
        The set keeps it as issued.
      </p>
      {!open && (
        <Button size="sm" variant="outline-primary" onClick={() => setOpen(true)}>
          Look at its evidence anew
        </Button>
      )}
      {open && (
        <Loaded query={query}>
          {({ window, chance: holds, offered }) => (
            <>
              <ExposureStrip
                result={window}
                marks={[]}
                range={window.ladder_s ?? [card.exposure_s, card.exposure_s]}
                step={card.exposure_step_s}
                chosen={card.exposure_s}
              />
              <p className="mb-0">
                {holds === null
                  ? "Today nothing could be said of this exposure."
                  : `Today all requirements hold with ${chance(holds)} at this exposure.`}{" "}
                {offered ? "It would be offered." : "It would not be offered: calibrate again."}
              </p>
            </>
          )}
        </Loaded>
      )}
    </section>
  );
}

function CardHead({ card }: { card: Card }) {
  return (
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
          {card.code}, version {card.version} · issued {day(card.issued_at)} by{" "}
          <span className="num">{card.initials}</span>
        </div>
      </div>
      <div className="exposure">
        {exposure(card.exposure_s, card.exposure_step_s)}
        <small>{THIN}s</small>
      </div>
    </div>
  );
}

function Lines({ lines }: { lines: Schemas["CardLine"][] }) {
  return (
    <table>
      <tbody>
        {lines.map((line) => (
          <tr key={line.name}>
            <td>{line.name}</td>
            <td>
              {trueMinus(line.value)}
              {line.unit && `${THIN}${line.unit}`}
            </td>
          </tr>
        ))}
      </tbody>
    </table>
  );
}
