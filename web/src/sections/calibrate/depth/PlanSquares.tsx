import Button from "react-bootstrap/Button";
import { useSay } from "../../../app/toasts";
import { body, POST, type Schemas } from "../../../shared/api/client";
import { useSend } from "../../../shared/api/useSend";
import { SizesField } from "../../../shared/fields/SizesField";
import { plural, THIN, plain } from "../../../shared/format";
import { Trouble } from "../../../shared/Trouble";
import { useKept } from "../../../shared/useKept";

/** Squares by time, far enough apart to make a line. */
export function PlanSquares({ depth }: { depth: Schemas["DepthView"] }) {
  const say = useSay();
  const [times, setTimes, forget] = useKept<number[] | null>(
    `squares.${depth.calibration_id}`,
    depth.suggested_s.length ? depth.suggested_s : null,
  );
  const plan = useSend(
    (exposures_s: number[], headers) =>
      body(
        POST("/api/calibrations/{calibration_id}/depth-squares", {
          params: { path: { calibration_id: depth.calibration_id } },
          body: { exposures_s },
          headers,
        }),
      ),
    (_, asked) => {
      say(`${plural(asked.length, "square")} planned.`);
      setTimes(null);
      forget();
    },
  );
  const said = Object.entries(plan.error?.fields ?? {}).find(([name]) => name.startsWith("exposures_s"))?.[1];
  return (
    <form
      className="mb-3"
      onSubmit={(event) => {
        event.preventDefault();
        if (times) plan.mutate(times);
      }}
    >
      <h2>{depth.squares.length ? "More squares" : "Plan squares"}</h2>
      <SizesField
        label="Times"
        unit="s"
        values={times}
        onChange={setTimes}
        error={said}
        hint="Each about twice the one before makes a good line"
      />
      {depth.squares.length > 0 && depth.suggested_s.length > 0 && times === null && (
        <Button variant="link" size="sm" className="px-0" onClick={() => setTimes(depth.suggested_s)}>
          {depth.suggested_s.map(plain).join(", ")}
          {THIN}s would come nearer
        </Button>
      )}
      {!said && <Trouble error={plan.error} className="mt-2" />}
      <Button type="submit" className="w-100 mt-2" disabled={!times || plan.isPending}>
        {times ? `Plan ${plural(times.length, "square")}` : "Plan squares"}
      </Button>
    </form>
  );
}
