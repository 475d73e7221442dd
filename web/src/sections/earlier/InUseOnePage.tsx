import { useState } from "react";
import Dropdown from "react-bootstrap/Dropdown";
import { Link, useParams } from "react-router";
import { PageHead } from "../../app/PageHead";
import { useSay } from "../../app/toasts";
import { body, POST, type Schemas } from "../../shared/api/client";
import { useGet } from "../../shared/api/useGet";
import { useSend } from "../../shared/api/useSend";
import { day, duration, millilitres, plain, THIN } from "../../shared/format";
import { Loaded } from "../../shared/Loading";
import { ReasonDialog } from "../../shared/ReasonDialog";
import { StateMark } from "../../shared/StateMark";
import { MiniStrip } from "../../shared/strip/MiniStrip";
import { KIND_NAMES } from "../calibrate/model";
import { age } from "./age";
import "./earlier.scss";

type Page = Schemas["ProvisionalPage"];

/** Settings in use: what to type, what prints say of them, and the coupon that would show most. */
export default function InUseOnePage() {
  const { code = "" } = useParams();
  const page = useGet("/api/provisional-sets/{code}", { params: { path: { code } } });
  return (
    <Loaded page query={page}>
      {(one) => <InUseOne page={one} onChanged={() => void page.refetch()} />}
    </Loaded>
  );
}

function InUseOne({ page, onChanged }: { page: Page; onChanged: () => void }) {
  const say = useSay();
  const [withdrawing, setWithdrawing] = useState(false);
  const path = { params: { path: { code: page.code } } };
  const restore = useSend((_: null) => body(POST("/api/provisional-sets/{code}/restore", path)), onChanged);
  const withdraw = useSend(
    (reason: string) => body(POST("/api/provisional-sets/{code}/withdraw", { ...path, body: { reason } })),
    () => {
      setWithdrawing(false);
      say(`${page.code} is withdrawn.`, () => restore.mutate(null));
      onChanged();
    },
  );
  const gone = page.state === "withdrawn";
  return (
    <>
      <PageHead
        title={`${page.material} on ${page.printer}, ${page.layer_height_um} µm`}
        sub={
          <>
            {page.code} · <StateMark name={page.state} /> · {page.source_words}
          </>
        }
      >
        {!gone && (
          <>
            <Link className="btn btn-quiet" to={`/log/new?from=${page.code}`}>
              Start a print with it
            </Link>
            <Dropdown align="end">
              <Dropdown.Toggle variant="quiet">More</Dropdown.Toggle>
              <Dropdown.Menu>
                <Dropdown.Item as={Link} to={`/shelf/in-use/${page.code}/change`}>
                  Change…
                </Dropdown.Item>
                <Dropdown.Item onClick={() => setWithdrawing(true)}>Withdraw…</Dropdown.Item>
              </Dropdown.Menu>
            </Dropdown>
            {!page.calibrated && (
              <Link className="btn btn-primary" to={calibrate(page)}>
                Calibrate
              </Link>
            )}
          </>
        )}
      </PageHead>
      {gone && <p className="caution">Withdrawn: {page.withdrawn_reason}.</p>}
      {page.calibrated && (
        <p className="caution">
          <Link to={`/sets/${page.calibrated.set_code}`}>{page.calibrated.set_code}</Link> has taken its place.{" "}
          {page.calibrated.words}
        </p>
      )}
      <div className="in-use">
        <section className="panel" aria-label="What to type">
          <h2>What to type</h2>
          <table className="table table-sm mb-0">
            <tbody>
              {page.setting_lines.map((line) => (
                <tr key={line.name}>
                  <th scope="row" className="fw-normal">
                    {line.name}
                  </th>
                  <td className="text-end num text-nowrap">
                    {line.value}
                    {line.unit && `${THIN}${line.unit}`}
                  </td>
                  <td className="text-secondary small">{page.usual_lines.includes(line.name) && "as usual"}</td>
                </tr>
              ))}
            </tbody>
          </table>
        </section>
        <div className="d-grid gap-3">
          <section className="panel" aria-label="What is known of it">
            <h2>What is known of it</h2>
            <MiniStrip axis={page.range_s} exposure={page.exposure_s} window={windowOf(page)} fromPrints labelled />
            <p className="mt-3 mb-0">
              {page.from_prints?.words ??
                "Nothing yet. Prints that are started with it and said how they came out draw a hollow window here."}
            </p>
          </section>
          {page.next && !gone && (
            <section className="panel" aria-label="What would show most">
              <h2>What would show most</h2>
              <p className="next-step">
                {nameOf(page.next.kind)} at {page.next.exposures_s.map(plain).join(", ")}
                {THIN}s
              </p>
              <p>
                {millilitres(page.next.cost.volume_ml)} · {duration(page.next.cost.duration_s)}. {page.next.words}
              </p>
              <Link className="btn btn-primary" to={calibrate(page)}>
                Calibrate from here
              </Link>
            </section>
          )}
          <section className="panel" aria-label="Where it comes from">
            <h2>Where it comes from</h2>
            <p className="mb-1">
              {page.source_words}
              {page.source_note && `: ${page.source_note}`}.{" "}
              {page.in_use_since
                ? `In use since ${day(page.in_use_since)}, ${age(page.age_days)}.`
                : "Since when is not known."}
            </p>
            <p className="mb-0 text-secondary">
              Entered by {page.initials}, {day(page.entered_at)}
              {page.table_code && (
                <>
                  , from row {page.table_row} of{" "}
                  <a href={`/api/earlier-tables/${page.table_code}/file`}>{page.table_code}</a>
                </>
              )}
              .{page.history.length > 1 && ` Version ${page.version}; before: ${before(page)}.`}
            </p>
            {page.finish_route && <p className="mt-2 mb-0">Finish: {page.finish_route}.</p>}
            {page.note && <p className="mt-2 mb-0">{page.note}</p>}
          </section>
        </div>
      </div>
      {withdrawing && (
        <ReasonDialog
          title={`Withdraw ${page.code}`}
          label="Why it no longer stands"
          action="Withdraw"
          saving={withdraw.isPending}
          error={withdraw.error}
          onClose={() => setWithdrawing(false)}
          onSave={(reason) => withdraw.mutate(reason)}
        />
      )}
    </>
  );
}

/** The coupon by its name, at the beginning of a sentence. */
const nameOf = (kind: string): string => {
  const name = KIND_NAMES[kind] ?? kind;
  return `${name[0]?.toUpperCase()}${name.slice(1)}`;
};

const calibrate = (page: Page): string =>
  `/calibrate/new?material=${page.material_id}&printer=${page.printer_id}&height=${page.layer_height_um}`;

const windowOf = ({ from_prints: window }: Page): [number, number] | null =>
  window?.lower_s && window.upper_s ? [window.lower_s, window.upper_s] : null;

const before = (page: Page): string =>
  page.history
    .slice(1)
    .map((one) => `${plain(one.exposure_s)}${THIN}s (${one.initials}, ${day(one.entered_at)})`)
    .join(", ");
