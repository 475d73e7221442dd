import { keepPreviousData, useQuery } from "@tanstack/react-query";
import { useState } from "react";
import Button from "react-bootstrap/Button";
import { ApiError, body, POST, type Schemas } from "../../shared/api/client";
import { Choice } from "../../shared/fields/Choice";
import { NumberField } from "../../shared/fields/NumberField";
import { millilitres } from "../../shared/format";
import { Trouble } from "../../shared/Trouble";
import { VatDrawing } from "../../shared/vat/VatDrawing";
import { useTargets } from "./targets";
import { useGet } from "../../shared/api/useGet";

/** What to pour to reach a recipe at the fill line, with the least drained. */
export function TopUp({
  vat,
  onPour,
}: {
  vat: Schemas["VatView"];
  onPour: (bottleId: string | null, volume: number) => void;
}) {
  const targets = useTargets();
  const [target, setTarget] = useState(vat.material_id ?? "");
  const [final, setFinal] = useState<number | null>(vat.fill_line_ml);
  const bottles = useGet(
    "/api/bottles",
    { params: { query: { retired: false, limit: 200, after: "" } } },
    { select: (answer) => answer.items },
  );
  const asked = useQuery<Schemas["TopUpView"], ApiError>({
    queryKey: ["reach", vat.printer_id, vat.volume_ml, target, final],
    queryFn: () =>
      body(
        POST("/api/printers/{printer_id}/vat/reach", {
          params: { path: { printer_id: vat.printer_id } },
          body: { material_id: target, final_ml: final },
        }),
      ),
    enabled: Boolean(target && final),
    placeholderData: keepPreviousData,
    retry: false,
  });
  const held = asked.error ? undefined : asked.data;
  const bottleOf = (material: string, volume: number) =>
    bottles.data?.find((one) => one.material_id === material && one.left_ml >= volume);
  return (
    <section className="panel" aria-label="Top up">
      <h2>Top up</h2>
      <div className="two">
        <Choice
          label="To"
          value={target}
          onChange={setTarget}
          error={asked.error?.fields.material_id}
          options={targets}
        />
        <NumberField
          label="Up to"
          unit="ml"
          value={final}
          onChange={setFinal}
          error={asked.error?.fields.final_ml}
          hint={`fill line ${vat.fill_line_ml} ml`}
        />
      </div>
      <Trouble error={asked.error && !Object.keys(asked.error.fields).length ? asked.error : null} className="mt-2" />
      {held && target && (
        <>
          {held.result.warnings.map((one) => (
            <p key={one.code} className="caution mt-2 mb-0">
              {one.message}
            </p>
          ))}
          <VatDrawing
            name="After topping up"
            capacity={vat.capacity_ml}
            fillLine={vat.fill_line_ml}
            layers={held.in_vat.map((one) => ({ name: one.material, volume_ml: one.volume_ml }))}
            drain={held.result.drain_ml}
            pours={held.pours.map((one) => ({ name: one.material, volume_ml: one.volume_ml }))}
          />
          {held.pours.length ? (
            <ol className="mb-0">
              {held.result.drain_ml > 0.5 && <li>Drain {millilitres(held.result.drain_ml)} through a strainer.</li>}
              {held.pours.map((one) => {
                const bottle = bottleOf(one.material_id, one.volume_ml);
                return (
                  <li key={one.material_id}>
                    Pour <b className="num">{millilitres(one.volume_ml)}</b> {one.material}
                    {bottle ? ` from ${bottle.code}` : <span className="found"> ▲ no bottle holds that much</span>}{" "}
                    <Button
                      variant="link"
                      className="p-0 align-baseline"
                      onClick={() => onPour(bottle?.id ?? null, Math.round(10 * one.volume_ml) / 10)}
                    >
                      Record it
                    </Button>
                  </li>
                );
              })}
              <li>Stir thoroughly.</li>
            </ol>
          ) : (
            <p className="mb-0">Nothing to pour: it is there already.</p>
          )}
        </>
      )}
    </section>
  );
}
