import { Link } from "react-router";
import { PageHead } from "../../app/PageHead";
import { type Schemas } from "../../shared/api/client";
import { EmptyState } from "../../shared/EmptyState";
import { Choice } from "../../shared/fields/Choice";
import { threeDigits, THIN, quantity, temperatures } from "../../shared/format";
import { perDegree } from "../../shared/known/perDegree";
import { Loaded } from "../../shared/Loading";
import { CurvePlot } from "../../shared/plot/CurvePlot";
import { ClimateTabs } from "./ClimateTabs";
import { bestBy, type Known, useKnown, useMaterial } from "./useMaterial";
import "./climate.scss";
import { useGet } from "../../shared/api/useGet";

/** What temperature does to the exposure a material needs. */
export default function ExposurePage() {
  const materials = useKnown();
  return (
    <>
      <PageHead title="Exposure against temperature" />
      <ClimateTabs />
      <Loaded query={materials}>{(held) => <Effect materials={held} />}</Loaded>
    </>
  );
}

function Effect({ materials }: { materials: Known[] }) {
  const [material, setMaterial] = useMaterial(bestBy(materials, (one) => one.temperatures)?.id);
  const query = useGet(
    "/api/materials/{material_id}/temperature-effect",
    { params: { path: { material_id: material } } },
    { enabled: Boolean(material) },
  );
  return (
    <>
      <div className="climate-bar">
        <Choice
          label="Material"
          value={material}
          onChange={setMaterial}
          options={materials.map((one) => [one.id, one.name])}
        />
      </div>
      <Loaded query={query}>{(held) => <Shown effect={held} />}</Loaded>
    </>
  );
}

function Shown({ effect }: { effect: Schemas["EffectView"] }) {
  const { result } = effect;
  if (!effect.points.length)
    return (
      <EmptyState
        purpose={`${effect.missing} Issue a set with its temperature band, then another at a different temperature: the two tell how exposure follows.`}
      >
        <Link className="btn btn-primary" to="/calibrate/new">
          New calibration
        </Link>
      </EmptyState>
    );
  const slope = result && perDegree(result);
  const curve = effect.curve as [number, number, number | null, number | null][];
  const band = curve.flatMap(([x, , low, high]) => (low === null || high === null ? [] : [{ x, low, high }]));
  return (
    <section className="panel" aria-label="Exposure against temperature">
      {result && slope ? (
        <p>
          <b className="key-number">{slope.headline}</b> {slope.rest}, on {effect.printer} at {effect.layer_height_um}
          {THIN}µm, measured between {temperatures(result.fitted_range_c[0], result.fitted_range_c[1], " and ")}.
          Nothing is said further than {quantity(3, "°C", 0, true)} outside.
        </p>
      ) : (
        <p className="text-secondary">
          {effect.missing} On {effect.printer} at {effect.layer_height_um}
          {THIN}µm:
        </p>
      )}
      <div className="position-relative pt-4">
        <CurvePlot
          name={`Exposure of ${effect.material} against temperature`}
          across="in the middle of the band"
          acrossUnit="°C"
          up="s"
          shown={threeDigits}
          points={effect.points.map((one) => ({
            x: one.temp_c,
            y: one.exposure_s,
            name: one.what,
            hollow: one.kind === "check",
          }))}
          lines={curve.length ? [{ points: curve.map(([temp, value]) => [temp, value]) }] : []}
          band={band.length && band.length === curve.length ? band : undefined}
        />
      </div>
      {result?.warnings.map((one) => (
        <p key={one.code} className="caution mb-1">
          {one.message}
        </p>
      ))}
      <p className="small text-secondary mb-0">
        Full: issued sets. Hollow: check coupons that passed, at the exposure that would have made them as expected.
      </p>
    </section>
  );
}
