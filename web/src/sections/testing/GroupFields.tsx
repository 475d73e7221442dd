import { useState } from "react";
import Button from "react-bootstrap/Button";
import Form from "react-bootstrap/Form";
import type { Schemas } from "../../shared/api/client";
import { Choice } from "../../shared/fields/Choice";
import { NumberField } from "../../shared/fields/NumberField";
import { THIN, plain } from "../../shared/format";
import type { GroupDraft } from "./groups";
import type { Method } from "./model";
import { NewReference } from "./NewReference";

type Props = {
  number: number;
  group: GroupDraft;
  method: Method;
  materials: Schemas["MaterialStanding"][];
  errors: Record<string, string>;
  place: number;
  onChange: (changes: Partial<GroupDraft>) => void;
  onRemove?: () => void;
};

/** One group of a test: a material, its set, how it lay on the plate; and what is varied on purpose. */
export function GroupFields({ number, group, method, materials, errors, place, onChange, onRemove }: Props) {
  const [adding, setAdding] = useState(false);
  const [more, setMore] = useState(group.exposure_s !== null || group.cure_min !== null);
  const material = materials.find((one) => one.id === group.material_id);
  const others = materials.flatMap((one) =>
    one.id === group.material_id
      ? []
      : one.sets.map((held) => [held.code, `borrowed: ${held.code} of ${one.name}`] as [string, string]),
  );
  const sets = [
    ...(material?.sets ?? []).map(
      (one) =>
        [
          one.code,
          `${one.code}, ${one.printer}, ${one.layer_height_um}${THIN}µm, ${plain(one.exposure_s)}${THIN}s${one.state === "valid" ? "" : `, ${one.state}`}`,
        ] as [string, string],
    ),
    ...others,
  ];
  const error = (name: string) => (place >= 0 ? errors[`groups.${place}.${name}`] : undefined);
  function pick(id: string) {
    const chosen = materials.find((one) => one.id === id);
    const held = chosen?.sets.find((one) => one.state === "valid") ?? chosen?.sets[0];
    onChange({ material_id: id, set_code: held?.code ?? "" });
  }
  return (
    <fieldset className="group-fields" aria-label={`Group ${number}`}>
      <div className="group-row">
        <div>
          <Choice
            label={`Material ${number}`}
            value={group.material_id}
            onChange={pick}
            error={error("material_id")}
            options={materials.map((one) => [
              one.id,
              one.kind === "reference" ? `${one.name} (${one.what})` : one.name,
            ])}
          />
          {!group.material_id && (
            <Button variant="link" className="p-0" onClick={() => setAdding(true)}>
              Bought-in reference…
            </Button>
          )}
        </div>
        {material?.kind !== "reference" && (
          <Choice
            label="Set"
            value={group.set_code}
            none={material ? "no issued set" : "after the material"}
            onChange={(set_code) => onChange({ set_code })}
            error={error("set_code")}
            options={sets}
          />
        )}
        <div className="group-ends">
          <Form.Check
            type="radio"
            id={`reference-${number}`}
            name="reference"
            label="reference"
            checked={group.is_reference}
            onChange={() => onChange({ is_reference: true })}
          />
          {onRemove && (
            <Button variant="link" className="p-0" aria-label={`Remove group ${number}`} onClick={onRemove}>
              Remove
            </Button>
          )}
        </div>
      </div>
      {material && material.kind !== "reference" && (
        <>
          <div className="three mt-2">
            {method.conditions.length > 0 && (
              <Choice
                label="Condition"
                value={group.condition}
                none="not said"
                onChange={(condition) => onChange({ condition })}
                error={error("condition")}
                options={method.conditions.map((one) => [one, one])}
              />
            )}
            <Choice
              label="Lies on the plate"
              value={group.orientation}
              none="not said"
              onChange={(orientation) => onChange({ orientation })}
              options={["flat", "on edge", "upright", "slanted 45°"].map((one) => [one, one])}
            />
            <Choice
              label="Supports"
              value={group.supports}
              none="not said"
              onChange={(supports) => onChange({ supports })}
              options={["none, on the plate", "light", "medium", "heavy"].map((one) => [one, one])}
            />
          </div>
          {more ? (
            <div className="three mt-2">
              <NumberField
                label="Exposure instead"
                unit="s"
                value={group.exposure_s}
                onChange={(exposure_s) => onChange({ exposure_s })}
                error={error("exposure_s")}
                hint="to see what exposure does"
              />
              <NumberField
                label="Cure instead"
                unit="min"
                value={group.cure_min}
                onChange={(cure_min) => onChange({ cure_min })}
                error={error("cure_min")}
                hint="to see what cure does"
              />
            </div>
          ) : (
            <Button variant="link" className="p-0 mt-1" onClick={() => setMore(true)}>
              Vary exposure or cure…
            </Button>
          )}
        </>
      )}
      {adding && (
        <NewReference
          onClose={() => setAdding(false)}
          onMade={(id) => {
            setAdding(false);
            onChange({ material_id: id, set_code: "", is_reference: true });
          }}
        />
      )}
    </fieldset>
  );
}
