import { useState } from "react";
import Button from "react-bootstrap/Button";
import { useSay } from "../../app/toasts";
import { body, POST, type Schemas } from "../../shared/api/client";
import { useGet } from "../../shared/api/useGet";
import { useSend } from "../../shared/api/useSend";
import { Choice } from "../../shared/fields/Choice";
import { FormDialog } from "../../shared/fields/FormDialog";
import { NumberField } from "../../shared/fields/NumberField";
import { TextField } from "../../shared/fields/TextField";
import { useEntry } from "../../shared/fields/useEntry";
import { day } from "../../shared/format";
import { StateMark } from "../../shared/StateMark";

type Claim = Schemas["ClaimView"];

/** What sheets claim of a material, beside what was measured here. */
export function ClaimsPanel({ material }: { material: string }) {
  const say = useSay();
  const [adding, setAdding] = useState(false);
  const claims = useGet("/api/materials/{material_id}/claims", { params: { path: { material_id: material } } });
  const changed = () => void claims.refetch();
  const path = (id: string) => ({ params: { path: { claim_id: id } } });
  const restore = useSend((id: string) => body(POST("/api/claims/{claim_id}/restore", path(id))), changed);
  const withdraw = useSend((id: string) => body(POST("/api/claims/{claim_id}/withdraw", path(id))), changed);
  const rows = claims.data?.items ?? [];
  return (
    <section className="panel" aria-label="What sheets claim">
      <h2>What sheets claim</h2>
      {rows.length === 0 && (
        <p>Nothing is noted yet. A claim stands beside what is measured here, and is held against it.</p>
      )}
      <ul className="plain-list">
        {rows.map((one) => (
          <li key={one.id} className="mb-2">
            {one.words}
            {one.agrees !== null && (
              <>
                {" "}
                <StateMark name={one.agrees ? "met" : "not met"} word={one.agrees ? "agrees" : "differs"} />
              </>
            )}
            <small className="d-block text-secondary">
              {one.dated ? `Sheet of ${day(one.dated)}. ` : ""}
              {one.contradicts.length > 0 && `Contradicts ${one.contradicts.join(" and ")}. `}
              {one.initials}, {day(one.entered_at)}{" "}
              <Button
                variant="link"
                size="sm"
                className="p-0 align-baseline"
                aria-label={`Withdraw ${nameOf(one)}`}
                onClick={() =>
                  withdraw.mutate(one.id, {
                    onSuccess: () => say("The claim is withdrawn.", () => restore.mutate(one.id)),
                  })
                }
              >
                Withdraw
              </Button>
            </small>
          </li>
        ))}
      </ul>
      <Button variant="quiet" onClick={() => setAdding(true)}>
        Add a claim
      </Button>
      {adding && <ClaimDialog material={material} onClose={() => setAdding(false)} onSaved={changed} />}
    </section>
  );
}

const nameOf = (claim: Claim): string => `${claim.name} by ${claim.source}`;

function ClaimDialog({ material, onClose, onSaved }: { material: string; onClose: () => void; onSaved: () => void }) {
  const properties = useGet("/api/claim-properties", {}, { select: (answer) => answer.items, staleTime: Infinity });
  const entry = useEntry({
    property: "exposure",
    low: null as number | null,
    high: null as number | null,
    layer_height_um: 50 as number | null,
    source: "",
    dated: "",
    note: "",
  });
  const { values } = entry;
  const chosen = properties.data?.find((one) => one.key === values.property);
  const isExposure = values.property === "exposure";
  const save = useSend(
    (_: null, headers) =>
      body(
        POST("/api/materials/{material_id}/claims", {
          params: { path: { material_id: material } },
          body: {
            ...values,
            low: values.low ?? -1,
            layer_height_um: isExposure ? values.layer_height_um : null,
            dated: values.dated || null,
          },
          headers,
        }),
      ),
    () => {
      onSaved();
      onClose();
    },
  );
  const { field, elsewhere } = entry.checked(save.error);
  return (
    <FormDialog
      title="What a sheet claims"
      action="Add it"
      saving={save.isPending}
      error={elsewhere}
      ready={values.low !== null && values.source.trim() !== ""}
      onSave={() => save.mutate(null)}
      onClose={onClose}
    >
      <Choice
        label="Of what"
        {...field("property")}
        options={(properties.data ?? []).map((one) => [one.key, one.name])}
      />
      <div className="row g-3">
        <NumberField className="col-6" label="From" unit={chosen?.unit ?? ""} {...field("low")} />
        <NumberField
          className="col-6"
          label="To"
          unit={chosen?.unit ?? ""}
          {...field("high")}
          hint="empty: one value"
        />
      </div>
      {isExposure && <NumberField label="For layers of" unit="µm" {...field("layer_height_um")} />}
      <TextField label="Who claims it" {...field("source")} placeholder="the maker’s sheet" />
      <TextField label="Sheet of" type="date" {...field("dated")} />
      <TextField label="Note" {...field("note")} lines={2} />
    </FormDialog>
  );
}
