import Button from "react-bootstrap/Button";
import Form from "react-bootstrap/Form";
import { useSay } from "../../app/toasts";
import { body, POST, PUT, type Schemas } from "../../shared/api/client";
import { useSend } from "../../shared/api/useSend";
import { Choice } from "../../shared/fields/Choice";
import { NumberField } from "../../shared/fields/NumberField";
import { TextField } from "../../shared/fields/TextField";
import { useEntry } from "../../shared/fields/useEntry";
import { Trouble } from "../../shared/Trouble";
import type { Brief } from "./model";
import { useGet } from "../../shared/api/useGet";

type Line = Omit<Schemas["Requirement"], "limit"> & { limit: number | null };
type Draft = { name: string; use: string; requirements: Line[] };
const EMPTY: Line = {
  property: "",
  at: "least",
  limit: null,
  kind: "must",
  note: "",
  basis: "mean",
  margin_pct: 0,
  amount: null,
  conditions: [],
};
const BASES: [Line["basis"], string][] = [
  ["mean", "the mean"],
  ["bound", "nine parts in ten"],
  ["every", "every specimen"],
];

/** Requirements by property, limit, must or should; a change makes a new version. */
export function BriefForm({
  brief,
  properties,
  onClose,
}: {
  brief: Brief | null;
  properties: Schemas["PropertyView"][];
  onClose: () => void;
}) {
  const say = useSay();
  const entry = useEntry<Draft>(
    brief
      ? {
          name: brief.name,
          use: brief.use,
          requirements: brief.requirements.map(
            ({ property, at, limit, kind, note, basis, margin_pct, amount, conditions }) => ({
              property,
              at,
              limit,
              kind,
              note,
              basis,
              margin_pct,
              amount,
              conditions,
            }),
          ),
        }
      : { name: "", use: "", requirements: [EMPTY] },
    `brief.${brief?.version_id ?? "new"}`,
  );
  const { values: draft, set } = entry;
  const lines = draft.requirements.filter((one) => one.property);
  const request = {
    name: draft.name,
    use: draft.use,
    requirements: lines.map((one) => ({ ...one, limit: one.limit ?? 0 })),
    version: brief?.version ?? null,
  };
  const send = useSend(
    (_: null, headers) =>
      body(
        brief
          ? PUT("/api/briefs/{brief_id}", { params: { path: { brief_id: brief.id } }, body: request })
          : POST("/api/briefs", { body: request, headers }),
      ),
    (made) => {
      entry.forget();
      say(`${made.name}, version ${made.version}, is kept.`);
      onClose();
    },
  );
  const { field, errors, elsewhere } = entry.checked(send.error);
  const change = (index: number, changes: Partial<Line>) =>
    set({ requirements: draft.requirements.map((one, at) => (at === index ? { ...one, ...changes } : one)) });
  function remove(index: number) {
    const before = draft.requirements;
    set({ requirements: before.filter((_, at) => at !== index) });
    say(`Requirement ${index + 1} is removed.`, () => set({ requirements: before }));
  }
  const unitOf = (key: string) => properties.find((one) => one.key === key)?.unit ?? "";
  function pick(index: number, key: string) {
    const found = properties.find((one) => one.key === key);
    change(index, { property: key, at: found?.better === "lower" ? "most" : "least" });
  }
  return (
    <Form
      noValidate
      className="panel brief-form mb-3"
      aria-label={brief ? `Change ${brief.name}` : "Write a brief"}
      onSubmit={(event) => {
        event.preventDefault();
        send.mutate(null);
      }}
    >
      <TextField label="Application" {...field("name")} placeholder="Sensor clip" autoFocus className="mb-2" />
      <TextField
        label="What it goes through"
        {...field("use")}
        placeholder="300 flexes in cold sea water"
        className="mb-3"
      />
      {draft.requirements.map((one, index) => {
        const place = lines.indexOf(one);
        return (
          <fieldset key={index} className="requirement mb-2" aria-label={`Requirement ${index + 1}`}>
            <Choice
              label="Property"
              value={one.property}
              onChange={(key) => pick(index, key)}
              error={errors[`requirements.${place}.property`]}
              options={properties.map((held) => [held.key, held.name, held.group])}
            />
            <Choice
              label="At"
              value={one.at}
              onChange={(at) => change(index, { at })}
              options={[
                ["least", "least"],
                ["most", "most"],
              ]}
            />
            <NumberField
              label="Limit"
              unit={unitOf(one.property)}
              value={one.limit}
              onChange={(limit) => change(index, { limit })}
              error={errors[`requirements.${place}.limit`]}
            />
            <Choice
              label="Kind"
              value={one.kind}
              onChange={(kind) => change(index, { kind })}
              options={[
                ["must", "must"],
                ["should", "should"],
              ]}
            />
            <More
              line={one}
              property={properties.find((held) => held.key === one.property)}
              error={(name) => errors[`requirements.${place}.${name}`]}
              onChange={(changes) => change(index, changes)}
            />
            {draft.requirements.length > 1 && (
              <Button variant="quiet" size="sm" onClick={() => remove(index)}>
                Remove requirement {index + 1}
              </Button>
            )}
          </fieldset>
        );
      })}
      <Button variant="link" className="p-0" onClick={() => set({ requirements: [...draft.requirements, EMPTY] })}>
        One more requirement
      </Button>
      {!brief && !draft.name && (
        <Templates onPick={({ name, use, requirements }) => set({ name, use, requirements })} />
      )}
      {errors.requirements && <p className="trouble">Give at least one requirement.</p>}
      <Trouble error={elsewhere} className="mt-2" />
      <div className="d-flex gap-2 mt-3">
        <Button type="submit" disabled={send.isPending || lines.some((one) => one.limit === null)}>
          {brief ? `Save as version ${brief.version + 1}` : "Save the brief"}
        </Button>
        <Button variant="quiet" onClick={onClose}>
          Cancel
        </Button>
      </div>
    </Form>
  );
}

type Property = Schemas["PropertyView"];

/** What is held against the limit, how far from it, and what the test must have been made under. */
function More({
  line,
  property,
  error,
  onChange,
}: {
  line: Line;
  property: Property | undefined;
  error: (name: string) => string | undefined;
  onChange: (changes: Partial<Line>) => void;
}) {
  if (!property) return null;
  const held = (key: string) => line.conditions.find((one) => one.key === key)?.value;
  const setCondition = (key: string, value: string | number | null) =>
    onChange({
      conditions: [
        ...line.conditions.filter((one) => one.key !== key),
        ...(value === null || value === "" ? [] : [{ key, value }]),
      ],
    });
  return (
    <>
      {!property.key.startsWith("set.") && (
        <Choice
          label="Judged by"
          value={line.basis}
          onChange={(basis) => onChange({ basis })}
          error={error("basis")}
          options={BASES.filter(([key]) => key !== "bound" || !property.rated)}
        />
      )}
      {property.with_amount && (
        <NumberField
          label={`Of a part, ${property.with_amount}`}
          unit="ml"
          value={line.amount}
          onChange={(amount) => onChange({ amount })}
          error={error("amount")}
        />
      )}
      <details className="more" open={line.margin_pct > 0 || line.conditions.length > 0 || undefined}>
        <summary>Margin{property.conditions.length > 0 && " and conditions"}</summary>
        <div className="requirement">
          <NumberField
            label="Margin"
            unit="%"
            value={line.margin_pct}
            onChange={(margin) => onChange({ margin_pct: margin ?? 0 })}
            error={error("margin_pct")}
          />
          {property.conditions.map((field) =>
            field.choices.length ? (
              <Choice
                key={field.key}
                label={field.label}
                value={String(held(field.key) ?? "")}
                none="any"
                onChange={(value) => setCondition(field.key, value)}
                options={field.choices.map((one) => [one, one])}
              />
            ) : (
              <NumberField
                key={field.key}
                label={`${field.label}, if it matters`}
                unit={field.unit}
                value={(held(field.key) as number | undefined) ?? null}
                onChange={(value) => setCondition(field.key, value)}
              />
            ),
          )}
        </div>
      </details>
      {error("conditions") && <p className="trouble mb-0">{error("conditions")}</p>}
    </>
  );
}

/** Briefs to begin from. */
function Templates({ onPick }: { onPick: (found: Schemas["BriefTemplate"]) => void }) {
  const held = useGet("/api/brief-templates", {}, { staleTime: Infinity, select: (answer) => answer.items });
  return (
    <div className="d-flex flex-wrap gap-2 align-items-center mt-3" role="group" aria-label="Begin from">
      <span className="text-secondary">Begin from:</span>
      {(held.data ?? []).map((one) => (
        <Button key={one.name} size="sm" variant="quiet" onClick={() => onPick(one)}>
          {one.name}
        </Button>
      ))}
    </div>
  );
}
