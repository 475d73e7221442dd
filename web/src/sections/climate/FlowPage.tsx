import { useQuery } from "@tanstack/react-query";
import { useState } from "react";
import Button from "react-bootstrap/Button";
import Form from "react-bootstrap/Form";
import Table from "react-bootstrap/Table";
import { PageHead } from "../../app/PageHead";
import { useSay } from "../../app/toasts";
import { type ApiError, body, GET, POST, type Schemas } from "../../shared/api/client";
import { useSend } from "../../shared/api/useSend";
import { Choice } from "../../shared/fields/Choice";
import { NumberField } from "../../shared/fields/NumberField";
import { decimal, threeDigits, THIN, inUnit, temperature, temperatures } from "../../shared/format";
import { Loaded } from "../../shared/Loading";
import { CurvePlot } from "../../shared/plot/CurvePlot";
import { ReasonDialog } from "../../shared/ReasonDialog";
import { Trouble } from "../../shared/Trouble";
import { ClimateTabs } from "./ClimateTabs";
import { bestBy, type Known, useKnown, useMaterial } from "./useMaterial";
import "./climate.scss";
import { zip } from "../../shared/plot/scale";
import { signOfUnit } from "../../shared/labForm";

/** How a material flows at which temperature, and how warm it must be. */
export default function FlowPage() {
  const materials = useKnown();
  return (
    <>
      <PageHead title="Viscosity" />
      <ClimateTabs />
      <Loaded query={materials}>{(held) => <Flow materials={held} />}</Loaded>
    </>
  );
}

function Flow({ materials }: { materials: Known[] }) {
  const [material, setMaterial] = useMaterial(bestBy(materials, (one) => one.flow_readings)?.id);
  const [target, setTarget] = useState<number | null>(null);
  const [unit, setUnit] = useState<"mPa·s" | "s" | null>(null);
  const query = useQuery<Schemas["FlowView"], ApiError>({
    queryKey: ["flow", material, target, unit],
    enabled: Boolean(material),
    retry: false,
    queryFn: () =>
      body(
        GET("/api/materials/{material_id}/flow", {
          params: { path: { material_id: material }, query: { target: target ?? undefined, unit: unit ?? undefined } },
        }),
      ),
    placeholderData: (before) => (before?.material_id === material ? before : undefined),
  });
  const held = query.data;
  const shownUnit = held?.unit ?? "mPa·s";
  const result = query.error ? null : (held?.result ?? null);
  const curve = result?.curve;
  return (
    <>
      <div className="climate-bar">
        <Choice
          label="Material"
          value={material}
          onChange={setMaterial}
          options={materials.map((one) => [one.id, one.name])}
        />
        <NumberField
          label="Wanted viscosity"
          unit={shownUnit}
          value={target}
          onChange={setTarget}
          error={query.error?.fields.target}
          hint={shownUnit === "s" ? "seconds of your cup" : undefined}
        />
        <Choice
          label="Measured in"
          value={shownUnit}
          onChange={(value) => setUnit(value)}
          options={[
            ["mPa·s", "mPa·s"],
            ["s", "seconds of one flow cup"],
          ]}
        />
      </div>
      <div className="two-columns">
        <section className="panel" aria-label="Curve">
          {held && result && curve ? (
            <>
              {result.temp_for_target_c !== null && (
                <p className="mb-2">
                  Warm it to <b className="key-number num">{temperature(result.temp_for_target_c, 0)}</b>
                  {result.temp_for_target_ci_c &&
                    ` (${inUnit(result.temp_for_target_ci_c[0], "°C", 1)} to ${temperature(result.temp_for_target_ci_c[1], 1)})`}{" "}
                  for {target} {shownUnit}.
                </p>
              )}
              <div className="position-relative pt-4">
                <CurvePlot
                  name={`Viscosity of ${held.material}`}
                  across=""
                  acrossUnit="°C"
                  up={shownUnit}
                  points={held.readings
                    .filter((one) => one.unit === shownUnit)
                    .map((one) => ({ x: one.temp_c, y: one.value }))}
                  lines={[{ points: zip(curve.temp_c, curve.value) }]}
                  band={
                    curve.low && curve.high
                      ? zip(curve.temp_c, curve.low, curve.high).map(([x, low, high]) => ({ x, low, high }))
                      : undefined
                  }
                  level={target === null ? undefined : { at: target, words: "wanted" }}
                  mark={
                    result.temp_for_target_c === null
                      ? undefined
                      : {
                          at: result.temp_for_target_c,
                          interval: result.temp_for_target_ci_c as [number, number] | null,
                          words: `${temperature(result.temp_for_target_c, 0)}`,
                        }
                  }
                />
              </div>
              {result.warnings.map((one) => (
                <p key={one.code} className="caution mb-1">
                  {one.message}
                </p>
              ))}
              <p className="small text-secondary mb-0">
                Activation energy{result.law === "vft" && ", in the middle,"}{" "}
                {decimal(result.activation_energy_kj_mol, 0)}
                {THIN}kJ/mol; measured between{" "}
                {temperatures(result.fitted_range_c[0], result.fitted_range_c[1], " and ")}.
              </p>
            </>
          ) : (
            <p className="text-secondary mb-0">{held?.missing ?? query.error?.message}</p>
          )}
        </section>
        <section className="panel" aria-label="Readings">
          <h2>Readings</h2>
          {held && held.readings.length > 0 && <Readings readings={held.readings} />}
          {material && <NewReading key={material} material={material} unit={shownUnit} />}
        </section>
      </div>
    </>
  );
}

function Readings({ readings }: { readings: Schemas["FlowReading"][] }) {
  const say = useSay();
  const [open, setOpen] = useState<string | null>(null);
  const restore = useSend((reading_id: string) =>
    body(POST("/api/flow-readings/{reading_id}/restore", { params: { path: { reading_id } } })),
  );
  const withdraw = useSend(
    ({ reading_id, reason }: { reading_id: string; reason: string }) =>
      body(POST("/api/flow-readings/{reading_id}/withdraw", { params: { path: { reading_id } }, body: { reason } })),
    (withdrawn) => {
      setOpen(null);
      say("The reading is withdrawn.", () => restore.mutate(withdrawn.id));
    },
  );
  return (
    <>
      <Table size="sm" aria-label="Viscosity readings">
        <thead>
          <tr>
            <th className="text-end">{signOfUnit("°C")}</th>
            <th className="text-end">Viscosity</th>
            <th>By</th>
            <th aria-label="Actions" />
          </tr>
        </thead>
        <tbody>
          {readings.map((one) => (
            <tr key={one.id}>
              <td className="num text-end">{inUnit(one.temp_c, "°C", 1)}</td>
              <td className="num text-end">
                {threeDigits(one.value)}
                {THIN}
                {one.unit}
              </td>
              <td>{one.initials}</td>
              <td className="text-end">
                <Button
                  size="sm"
                  variant="quiet"
                  aria-label={`Withdraw the reading at ${temperature(one.temp_c)}`}
                  onClick={() => setOpen(one.id)}
                >
                  Withdraw
                </Button>
              </td>
            </tr>
          ))}
        </tbody>
      </Table>
      {open && (
        <ReasonDialog
          title="Withdraw a reading"
          label="Why"
          action="Withdraw it"
          saving={withdraw.isPending}
          error={withdraw.error}
          onClose={() => setOpen(null)}
          onSave={(reason) => withdraw.mutate({ reading_id: open, reason })}
        />
      )}
    </>
  );
}

function NewReading({ material, unit }: { material: string; unit: "mPa·s" | "s" }) {
  const [temp, setTemp] = useState<number | null>(null);
  const [value, setValue] = useState<number | null>(null);
  const send = useSend(
    (reading: { temp_c: number; value: number }, headers) =>
      body(POST("/api/flow-readings", { body: { ...reading, material_id: material, unit }, headers })),
    () => {
      setTemp(null);
      setValue(null);
    },
  );
  const errors = send.error?.fields ?? {};
  return (
    <Form
      noValidate
      className="climate-bar mb-0"
      aria-label="New flow reading"
      onSubmit={(event) => {
        event.preventDefault();
        if (temp !== null && value !== null) send.mutate({ temp_c: temp, value });
      }}
    >
      <NumberField label="At" unit="°C" value={temp} onChange={setTemp} error={errors.temp_c} />
      <NumberField
        label={unit === "s" ? "Seconds of the cup" : "Viscosity"}
        unit={unit}
        value={value}
        onChange={setValue}
        error={errors.value}
      />
      <Button type="submit" className="add" disabled={send.isPending || temp === null || value === null}>
        Add
      </Button>
      <Trouble error={send.error && !Object.keys(errors).length ? send.error : null} />
    </Form>
  );
}
