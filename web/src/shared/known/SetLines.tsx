import { Link } from "react-router";
import type { Schemas } from "../api/client";
import { exposure, THIN } from "../format";
import { StateMark } from "../StateMark";
import { MiniStrip } from "../strip/MiniStrip";

/** Issued sets on one exposure axis, a row each. */
export function SetLines({
  sets,
  axis,
  by,
}: {
  sets: Schemas["SetLine"][];
  axis: [number, number] | null;
  by: "printer" | "material";
}) {
  if (!sets.length || !axis) return null;
  return (
    <table className="table table-sm set-lines mb-0" aria-label="Parameter sets">
      <tbody>
        {sets.map((set) => (
          <tr key={set.code}>
            <th scope="row">
              <Link to={by === "printer" ? `/printers/${set.printer_id}` : `/materials/${set.material_id}`}>
                {by === "printer" ? set.printer : set.material}
              </Link>
              <small className="d-block text-secondary num">
                {set.layer_height_um}
                {THIN}µm
              </small>
            </th>
            <td className="num">
              <Link to={`/sets/${set.code}`}>
                {exposure(set.exposure_s, set.exposure_step_s)}
                {THIN}s
              </Link>
            </td>
            <td className="strip-cell">
              <MiniStrip
                axis={axis}
                window={set.lower_s && set.upper_s ? [set.lower_s, set.upper_s] : null}
                exposure={set.exposure_s}
                lapsed={set.state === "lapsed"}
              />
            </td>
            <td>
              <StateMark name={set.state} />
              {set.why && <small className="d-block text-secondary">{set.why}</small>}
            </td>
          </tr>
        ))}
      </tbody>
    </table>
  );
}
