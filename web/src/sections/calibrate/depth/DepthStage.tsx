import { exposure, THIN, threeDigits, quantity, plain } from "../../../shared/format";
import { Loaded } from "../../../shared/Loading";
import { LogPlot } from "../../../shared/plot/LogPlot";
import type { Calibration, Step } from "../model";
import { DepthResult } from "./DepthResult";
import { PlanSquares } from "./PlanSquares";
import { Squares } from "./Squares";
import { useGet } from "../../../shared/api/useGet";

/** Depth of cure: how deep light goes, and with it a first exposure for every layer height. */
export function DepthStage({ calibration, onStep }: { calibration: Calibration; onStep: (to: Step) => void }) {
  const query = useGet("/api/calibrations/{calibration_id}/depth", {
    params: { path: { calibration_id: calibration.id } },
  });
  return (
    <Loaded query={query}>
      {(depth) => {
        const measured = depth.squares.flatMap(({ mean_mm, ...square }) =>
          mean_mm === null ? [] : [{ ...square, mean_mm }],
        );
        const own = depth.curve?.layer_exposures.find((one) => one.layer_height_um === calibration.layer_height_um);
        return (
          <div className="calibration">
            <div className="strip-place">
              <section className="panel" aria-label="Working curve">
                {measured.length ? (
                  <LogPlot
                    label={`Depth of cure against time: ${measured.length} squares${depth.curve ? `, penetration depth ${threeDigits(1000 * depth.curve.penetration_depth_mm)} µm` : ""}`}
                    xLabel="time, s"
                    yLabel="depth"
                    yUnit="mm"
                    points={measured.map((square) => ({
                      x: square.exposure_s,
                      y: square.mean_mm,
                      name: `${square.code}: ${quantity(square.mean_mm, "mm", 3)} at ${plain(square.exposure_s)} s`,
                    }))}
                    line={
                      depth.curve?.curve.map((point) => ({
                        x: point.exposure_s,
                        y: point.depth_mm,
                        low: point.depth_ci_mm?.[0],
                        high: point.depth_ci_mm?.[1],
                      })) ?? []
                    }
                    marks={
                      own
                        ? [
                            {
                              x: own.exposure_s,
                              y: own.cure_depth_um / 1000,
                              name: `~${threeDigits(own.exposure_s)} s for ${own.layer_height_um} µm`,
                            },
                          ]
                        : []
                    }
                    table={
                      <table>
                        <caption>Squares</caption>
                        <tbody>
                          {measured.map((square) => (
                            <tr key={square.id}>
                              <td>{plain(square.exposure_s)} s</td>
                              <td>{quantity(square.mean_mm, "mm", 3)}</td>
                            </tr>
                          ))}
                        </tbody>
                      </table>
                    }
                  />
                ) : (
                  <div className="stage-empty">
                    <h2>How deep does light cure?</h2>
                    <p>
                      Squares exposed straight onto the film, without the plate, tell how deep this resin cures at a few
                      times. That gives a first exposure for every layer height at once, and catches a weak light
                      source.
                    </p>
                  </div>
                )}
                {own && (
                  <p className="text-secondary mb-0">
                    At {exposure(own.exposure_s, calibration.exposure_step_s)}
                    {THIN}s a {own.layer_height_um}
                    {THIN}µm layer cures {own.cure_depth_um.toFixed(0)}
                    {THIN}µm deep.
                  </p>
                )}
                {depth.refused && <p className="caution">{depth.refused}</p>}
              </section>
            </div>
            <aside className="panel next-place" aria-label="Depth">
              {depth.squares.length === 0 && (
                <p className="caution">
                  Plate out, film clean, vat stirred. Gloves and eye protection: squares are uncured on one side.
                </p>
              )}
              {!calibration.closed_at && <PlanSquares depth={depth} />}
              {depth.curve && (
                <DepthResult depth={depth} curve={depth.curve} calibration={calibration} onStep={onStep} />
              )}
            </aside>
            <div className="tray-place">
              <Squares depth={depth} calibration={calibration} />
            </div>
          </div>
        );
      }}
    </Loaded>
  );
}
