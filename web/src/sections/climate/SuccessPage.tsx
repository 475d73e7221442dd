import { keepPreviousData } from "@tanstack/react-query";
import { useState } from "react";
import { Link } from "react-router";
import { PageHead } from "../../app/PageHead";
import { type Schemas } from "../../shared/api/client";
import { EmptyState } from "../../shared/EmptyState";
import { Choice } from "../../shared/fields/Choice";
import { NumberField } from "../../shared/fields/NumberField";
import { percent, plural, THIN, temperature, inUnit } from "../../shared/format";
import { Loaded } from "../../shared/Loading";
import { CurvePlot } from "../../shared/plot/CurvePlot";
import { ClimateTabs } from "./ClimateTabs";
import { useMaterial } from "./useMaterial";
import "./climate.scss";
import { useGet } from "../../shared/api/useGet";
import { zip } from "../../shared/plot/scale";

/** How warm the resin must be for prints to succeed, from the log. */
export default function SuccessPage() {
  const materials = useGet("/api/printed-materials", {}, { select: (answer) => answer.items });
  return (
    <>
      <PageHead title="Success against temperature" />
      <ClimateTabs />
      <Loaded query={materials}>
        {(held) =>
          held.length ? (
            <Success materials={held} />
          ) : (
            <EmptyState purpose="Every logged print says how warm its resin was and how it came out: together they tell how cold is too cold.">
              <Link className="btn btn-primary" to="/log/new">
                Log a print
              </Link>
            </EmptyState>
          )
        }
      </Loaded>
    </>
  );
}

function Success({ materials }: { materials: Schemas["PrintedMaterial"][] }) {
  const [material, setMaterial] = useMaterial(materials[0]?.material_id);
  const [wanted, setWanted] = useState<number | null>(95);
  const fits = wanted !== null && wanted > 0 && wanted < 100;
  const query = useGet(
    "/api/materials/{material_id}/success",
    fits ? { params: { path: { material_id: material }, query: { target: wanted / 100 } } } : null,
    { placeholderData: keepPreviousData },
  );
  return (
    <>
      <div className="climate-bar">
        <Choice
          label="Material"
          value={material}
          onChange={setMaterial}
          options={materials.map((one) => [one.material_id, `${one.name}, ${plural(one.prints, "print")}`])}
        />
        <NumberField
          label="Prints that should succeed"
          unit="%"
          value={wanted}
          onChange={setWanted}
          error={fits ? undefined : "Give a share between 0 and 100."}
        />
      </div>
      <Loaded query={query}>
        {(held) => (
          <section className="panel" aria-label="Success against temperature">
            {held.result?.temp_c != null && held.result.temp_ci_c && (
              <p>
                Resin at <b className="key-number num">{temperature(held.result.temp_c, 0)}</b> or warmer at the start (
                {inUnit(held.result.temp_ci_c[0], "°C", 0)} to {temperature(held.result.temp_ci_c[1], 0)}) for {wanted}
                {THIN}% of prints, from {plural(held.result.of, "print")} of which {held.result.ok} came out whole.
              </p>
            )}
            {(held.missing || Boolean(held.result?.warnings.length)) && (
              <p className="caution">
                {held.missing}
                {held.result?.warnings.map((one) => one.message).join(" ")}
              </p>
            )}
            {held.prints.length > 0 && (
              <div className="position-relative pt-4">
                <CurvePlot
                  name={`Success of ${held.material}`}
                  across="of the resin at the start"
                  acrossUnit="°C"
                  up="came out whole"
                  shown={percent}
                  range={{ from: 0, to: 1 }}
                  points={held.prints.map((one) => ({
                    x: one.temp_c,
                    y: one.ok / one.of,
                    name: `${one.ok}/${one.of}`,
                  }))}
                  lines={
                    held.result?.curve ? [{ points: zip(held.result.curve.temp_c, held.result.curve.success) }] : []
                  }
                  band={held.result?.curve ? bandOf(held.result.curve) : undefined}
                  level={fits ? { at: wanted / 100, words: `${wanted} % wanted` } : undefined}
                  mark={
                    held.result?.temp_c != null
                      ? {
                          at: held.result.temp_c,
                          interval: held.result.temp_ci_c as [number, number],
                          words: `${temperature(held.result.temp_c, 0)}`,
                        }
                      : undefined
                  }
                />
              </div>
            )}
            {held.elsewhere > 0 && (
              <p className="small text-secondary mb-0">
                {plural(held.elsewhere, "print")} left out: their temperature was measured in the room or the air, not
                in the resin.
              </p>
            )}
          </section>
        )}
      </Loaded>
    </>
  );
}

const bandOf = (curve: { temp_c: number[]; low: number[]; high: number[] }) =>
  zip(curve.temp_c, curve.low, curve.high).map(([x, low, high]) => ({ x, low, high }));
