import { Link } from "react-router";
import type { Schemas } from "../api/client";
import { day, moment, THIN, temperature } from "../format";

/** The last calibrations of a material or a printer. */
export function Calibrations({ rows }: { rows: Schemas["CampaignLine"][] }) {
  if (!rows.length) return <p className="text-secondary mb-0">None yet.</p>;
  return (
    <ul className="list-unstyled mb-0">
      {rows.map((row) => (
        <li key={row.id}>
          <Link to={`/calibrate/${row.id}`}>{row.code}</Link> {row.material} on {row.printer}, {row.layer_height_um}
          {THIN}µm · {day(row.opened_at)}
          {row.set_code && (
            <>
              {" · "}
              <Link to={`/sets/${row.set_code}`}>{row.set_code}</Link>
            </>
          )}
          {row.squares > 0 && (
            <>
              {" · "}
              <Link to={`/calibrate/${row.id}?step=depth`}>depth squares</Link>
            </>
          )}
        </li>
      ))}
    </ul>
  );
}

/** The last prints, with what came out. */
export function Prints({ rows }: { rows: Schemas["PrintLine"][] }) {
  if (!rows.length) return <p className="text-secondary mb-0">None logged yet.</p>;
  return (
    <ul className="list-unstyled mb-0">
      {rows.map((row) => (
        <li key={row.id}>
          <span className="num">{moment(row.printed_at)}</span> <Link to={`/log/${row.code}`}>{row.code}</Link>,{" "}
          {row.printer}
          {row.set_code && ` with ${row.set_code}`}
          {row.temp_c !== null && ` at ${temperature(row.temp_c)}`}: <b>{row.outcome ?? "not noted"}</b>
          {row.seen && ` · ${row.seen}`}
        </li>
      ))}
    </ul>
  );
}
