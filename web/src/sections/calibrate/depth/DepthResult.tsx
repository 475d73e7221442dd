import { useState } from "react";
import Button from "react-bootstrap/Button";
import { Link } from "react-router";
import { useSay } from "../../../app/toasts";
import { body, PUT, type Schemas } from "../../../shared/api/client";
import { useSend } from "../../../shared/api/useSend";
import { NumberField } from "../../../shared/fields/NumberField";
import { exposure, THIN, threeDigits } from "../../../shared/format";
import { Trouble } from "../../../shared/Trouble";
import type { Calibration, Step } from "../model";
import { Notices } from "../Notices";

/** What the curve says, in numbers and in words. */
export function DepthResult({
  depth,
  curve,
  calibration,
  onStep,
}: {
  depth: Schemas["DepthView"];
  curve: NonNullable<Schemas["DepthView"]["curve"]>;
  calibration: Calibration;
  onStep: (to: Step) => void;
}) {
  const dp = 1000 * curve.penetration_depth_mm;
  const uncertainty =
    curve.penetration_depth_se_mm === null ? "" : ` ± ${Math.max(2000 * curve.penetration_depth_se_mm, 1).toFixed(0)}`;
  return (
    <>
      <h2>What it says</h2>
      <dl className="result">
        <dt>Penetration depth Dp</dt>
        <dd className="num">
          {dp.toFixed(0)}
          {uncertainty}
          {THIN}µm
        </dd>
        <dt>Critical time tc</dt>
        <dd className="num">
          {threeDigits(curve.critical_exposure_s)}
          {THIN}s
          {curve.critical_exposure_ci_s && (
            <small className="text-secondary"> {curve.critical_exposure_ci_s.map(threeDigits).join("–")}</small>
          )}
        </dd>
        {curve.critical_energy_mj_cm2 !== null && (
          <>
            <dt>Critical energy Ec</dt>
            <dd className="num">
              {threeDigits(curve.critical_energy_mj_cm2)}
              {THIN}mJ/cm²
            </dd>
          </>
        )}
      </dl>
      <p>
        <b>{curve.character === "between" ? "In between." : `${curve.character === "clear" ? "Clear" : "Opaque"}.`}</b>{" "}
        {curve.meaning}
      </p>
      <Notices notices={curve.warnings} />
      <h2>First exposure by layer height</h2>
      <table className="table table-sm by-layer">
        <thead>
          <tr>
            <th scope="col">Layer, µm</th>
            <th scope="col">Exposure, s</th>
            <th scope="col">Bloom, µm</th>
          </tr>
        </thead>
        <tbody>
          {curve.layer_exposures.map((layer) => (
            <tr
              key={layer.layer_height_um}
              className={layer.layer_height_um === calibration.layer_height_um ? "here" : ""}
            >
              <td className="num">{layer.layer_height_um}</td>
              <td className="num">
                <i>~{exposure(layer.exposure_s, depth.exposure_step_s)}</i>
                {layer.exposure_ci_s && (
                  <small className="text-secondary d-block">{layer.exposure_ci_s.map(threeDigits).join("–")}</small>
                )}
              </td>
              <td className="num" title="One flash; with the light of all later layers">
                {layer.z_bloom_um.toFixed(0)} / {layer.z_bloom_accumulated_um.toFixed(0)}
              </td>
            </tr>
          ))}
        </tbody>
      </table>
      <p className="small text-secondary">Bloom: by one flash, and with the light of all later layers.</p>
      {!calibration.closed_at && (
        <div className="d-grid gap-2 mb-3">
          {depth.squares.every((square) => square.mean_mm !== null) && (
            <Button onClick={() => onStep("first-layer")}>On to the first layer</Button>
          )}
          {depth.thicker_um !== null && (
            <Link
              className="btn btn-quiet"
              to={`/calibrate/new?material=${calibration.material_id}&printer=${calibration.printer_id}&height=${depth.thicker_um}`}
            >
              Calibrate layers of {depth.thicker_um}
              {THIN}µm instead
            </Link>
          )}
        </div>
      )}
      {!calibration.closed_at && <Settings depth={depth} />}
    </>
  );
}

function Settings({ depth }: { depth: Schemas["DepthView"] }) {
  const say = useSay();
  const [irradiance, setIrradiance] = useState(depth.irradiance_mw_cm2);
  const [overcure, setOvercure] = useState(depth.min_overcure_um);
  const save = useSend(
    (_: null) =>
      body(
        PUT("/api/calibrations/{calibration_id}/depth", {
          params: { path: { calibration_id: depth.calibration_id } },
          body: { irradiance_mw_cm2: irradiance, min_overcure_um: overcure, version: depth.version },
        }),
      ),
    () => say(overcure === null ? "Saved." : "Saved; the cure lane follows."),
  );
  const changed = irradiance !== depth.irradiance_mw_cm2 || overcure !== depth.min_overcure_um;
  return (
    <form
      className="d-grid gap-2"
      onSubmit={(event) => {
        event.preventDefault();
        save.mutate(null);
      }}
    >
      <NumberField
        label="Light power measured"
        unit="mW/cm²"
        value={irradiance}
        onChange={setIrradiance}
        error={save.error?.fields.irradiance_mw_cm2}
        hint="Gives the critical energy"
      />
      <NumberField
        label="Cure at least beyond the layer"
        unit="µm"
        value={overcure}
        onChange={setOvercure}
        error={save.error?.fields.min_overcure_um}
        hint="Makes the cure lane; empty leaves it out"
      />
      <Trouble error={save.error && !Object.keys(save.error.fields).length ? save.error : null} />
      {changed && (
        <Button type="submit" variant="outline-primary">
          Save
        </Button>
      )}
    </form>
  );
}
