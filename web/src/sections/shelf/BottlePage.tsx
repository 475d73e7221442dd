import { Link, useParams } from "react-router";
import { PageHead } from "../../app/PageHead";
import type { Schemas } from "../../shared/api/client";
import { useGet } from "../../shared/api/useGet";
import { EmptyState } from "../../shared/EmptyState";
import { day, decimal, millilitres, moment, plural, THIN } from "../../shared/format";
import { Loaded } from "../../shared/Loading";
import { Shaken } from "./Shaken";
import "./bottle.scss";

type Page = Schemas["BottlePage"];
type Use = Page["uses"][number];

const PAGES: Record<string, (use: Use) => string> = {
  print: (use) => `/log/${use.code}`,
  batch: (use) => `/blend/batches/${use.code}`,
  calibration: (use) => `/calibrate/${use.code}`,
};

/** One bottle: is there enough in it, is it still good, and where did it go? */
export default function BottlePage() {
  const { code = "" } = useParams();
  const query = useGet("/api/bottles/{id_or_code}/page", { params: { path: { id_or_code: code } } });
  return (
    <Loaded page query={query}>
      {(page) => (
        <>
          <PageHead title={`Bottle ${page.bottle.code}`} sub={`${page.bottle.material}, lot ${page.bottle.lot}`}>
            <Link className="btn btn-quiet" to={`/shelf/bottles?edit=${page.bottle.id}`}>
              Edit
            </Link>
            <Link className="btn btn-quiet" to={`/materials/${page.bottle.material_id}`}>
              {page.bottle.material}
            </Link>
          </PageHead>
          <div className="bottle-layout">
            <section className="panel bottle-state" aria-label="What is left">
              <Drawn page={page} />
              <dl className="bottle-facts">
                <dt>Left</dt>
                <dd className="num big">
                  {millilitres(page.bottle.left_ml)} <small>of {millilitres(page.bottle.volume_ml)}</small>
                </dd>
                <dt>Opened</dt>
                <dd>{openedWords(page)}</dd>
                <dt>Best before</dt>
                <dd>{bestWords(page)}</dd>
                <dt>Shaken</dt>
                <dd>
                  <Shaken bottle={page.bottle} />
                  {page.settles && (
                    <small className="d-block text-secondary">Its pigment settles: shake before every print.</small>
                  )}
                </dd>
              </dl>
            </section>
            <EarlierPours bottle={page.bottle.id} />
            <section className="panel" aria-label="What went in and out">
              <h2>Where it went</h2>
              {page.uses.length ? (
                <Uses uses={page.uses} />
              ) : (
                <EmptyState purpose="Prints, pours and batches that take resin out of this bottle stand here with their millilitres.">
                  <Link className="btn btn-primary" to={`/calibrate/new?material=${page.bottle.material_id}`}>
                    Calibrate with it
                  </Link>
                </EmptyState>
              )}
            </section>
          </div>
        </>
      )}
    </Loaded>
  );
}

function openedWords({ open_days, bottle }: Page): string {
  if (open_days === null || !bottle.opened_on) return "not yet";
  return `${day(bottle.opened_on)}, ${open_days === 0 ? "today" : `${plural(open_days, "day")} ago`}`;
}

function bestWords({ best_in_days, bottle }: Page) {
  if (best_in_days === null || !bottle.best_before) return "not noted";
  if (best_in_days < 0) return <strong>{day(bottle.best_before)}: past its best</strong>;
  return `${day(bottle.best_before)}, in ${plural(best_in_days, "day")}`;
}

/** The bottle to scale, with a mark at every quarter. */
function Drawn({ page: { bottle } }: { page: Page }) {
  const share = Math.min(Math.max(bottle.left_ml / bottle.volume_ml, 0), 1);
  const height = 150 * share;
  return (
    <svg className="bottle-drawn" viewBox="0 0 110 210" role="img" aria-label={`${Math.round(100 * share)} % full`}>
      <rect x="12" y={198 - height} width="76" height={height} fill="var(--violet-mid)" opacity="0.75" />
      <path d="M36 4h28v22l24 20v152H12V46l24-20z" fill="none" stroke="var(--edge)" strokeWidth="2.5" />
      {[1, 2, 3].map((quarter) => (
        <path key={quarter} d={`M88 ${198 - quarter * 37.5}h8`} stroke="var(--edge)" />
      ))}
    </svg>
  );
}

function Uses({ uses }: { uses: Use[] }) {
  return (
    <ul className="list-unstyled uses mb-0">
      {uses.map((use) => (
        <li key={`${use.kind} ${use.code} ${use.at}`}>
          <span className="num text-secondary">{moment(use.at)}</span>
          <span className="num text-end">
            {use.ml === null
              ? ""
              : `${use.ml > 0 ? "+" : ""}${decimal(use.ml, Math.abs(use.ml) < 10 ? 1 : 0)}${THIN}ml`}
          </span>
          <span>
            {PAGES[use.kind] ? <Link to={PAGES[use.kind]?.(use) ?? ""}>{use.code}</Link> : null} {use.words}
            {use.initials && <span className="text-secondary"> · {use.initials}</span>}
          </span>
        </li>
      ))}
    </ul>
  );
}

/** Pours that a table from before had: what is left was counted after them. */
function EarlierPours({ bottle }: { bottle: string }) {
  const pours = useGet(
    "/api/bottles/{bottle_id}/earlier-pours",
    { params: { path: { bottle_id: bottle } } },
    { select: (answer) => answer.items },
  );
  if (!pours.data?.length) return null;
  return (
    <section className="panel" aria-label="Poured before">
      <h2>Poured before</h2>
      <ul className="plain-list mb-0">
        {pours.data.map((one, at) => (
          <li key={at}>
            {day(one.poured_at)}: <span className="num">{millilitres(one.volume_ml)}</span>
            {one.printer && ` into the vat of ${one.printer}`}{" "}
            <span className="text-secondary">imported, {one.table_code}</span>
          </li>
        ))}
      </ul>
    </section>
  );
}
