import { keepPreviousData, useQuery } from "@tanstack/react-query";
import Button from "react-bootstrap/Button";
import Form from "react-bootstrap/Form";
import { useNavigate, useSearchParams } from "react-router";
import { PageHead } from "../../app/PageHead";
import { useSay } from "../../app/toasts";
import { ApiError, body, POST, type Schemas } from "../../shared/api/client";
import { useSend } from "../../shared/api/useSend";
import { Choice } from "../../shared/fields/Choice";
import { NumberField } from "../../shared/fields/NumberField";
import { TextField } from "../../shared/fields/TextField";
import { Loaded } from "../../shared/Loading";
import { Trouble } from "../../shared/Trouble";
import { useStanding } from "../../shared/useStanding";
import { useKept } from "../../shared/useKept";
import { GroupFields } from "./GroupFields";
import { changed, type GroupDraft, NOTHING, oneMore, without } from "./groups";
import { FieldOf } from "./MethodFields";
import { type Method, type Row, useBriefs, useMethods } from "./model";
import { TestQuoteCard } from "./TestQuoteCard";
import "./test.scss";

type Draft = {
  method: string;
  brief: string;
  setup: Record<string, Row>;
  groups: GroupDraft[];
  detect: number | null;
  cv: number | null;
  each: number | null;
  age: number | null;
  note: string;
  reason: string;
};

/** A test from its method to the order sheet: what it costs and what is unfair about it is said before it is made. */
export default function PlanTestPage() {
  const methods = useMethods();
  const materials = useStanding();
  return (
    <>
      <PageHead title="Plan a test" />
      <Loaded query={methods}>
        {(held) => <Loaded query={materials}>{(known) => <Plan methods={held} materials={known} />}</Loaded>}
      </Loaded>
    </>
  );
}

function Plan({ methods, materials }: { methods: Method[]; materials: Schemas["MaterialStanding"][] }) {
  const navigate = useNavigate();
  const say = useSay();
  const [query] = useSearchParams();
  // A link that says what is wanted brings a plan of its own; several materials stand side by side.
  const wanted = query.getAll("material");
  const [draft, setDraft, forget] = useKept<Draft>(
    query.get("set") || wanted.length > 1 ? `test.plan.${query.toString()}` : "test.plan",
    {
      method: query.get("method") ?? methods[0]!.key,
      brief: query.get("brief") ?? "",
      setup: asked(query),
      groups:
        wanted.length > 1
          ? wanted.map((material_id, index) => ({ ...NOTHING, material_id, is_reference: index === 0 }))
          : [
              { ...NOTHING, material_id: wanted[0] ?? "", set_code: query.get("set") ?? "", is_reference: true },
              NOTHING,
            ],
      detect: null,
      cv: null,
      each: Number(query.get("each")) || null,
      age: null,
      note: "",
      reason: "",
    },
  );
  const set = (changes: Partial<Draft>) => setDraft((held) => ({ ...held, ...changes }));
  const method = methods.find((one) => one.key === draft.method) ?? methods[0]!;
  const usual = Object.fromEntries(method.setup.map((field) => [field.key, field.usual]));
  const setup: Row = { ...usual, ...draft.setup[method.key] };
  const named = draft.groups.filter((one) => one.material_id);
  const plan: Schemas["TestPlan"] = {
    method: method.key,
    brief_id: draft.brief || null,
    setup: Object.fromEntries(Object.entries(setup).filter(([, value]) => value !== null)),
    groups: named.map((one) => ({
      ...one,
      set_code: one.set_code || null,
      condition: method.conditions.includes(one.condition) ? one.condition : "",
      finish_route_id: null,
    })),
    wanted: { detect_pct: draft.detect, cv_pct: draft.cv, power: 0.8 },
    each: draft.each,
    age_h: draft.age,
    note: draft.note,
    concerns_reason: draft.reason || null,
  };
  const quote = useQuery<Schemas["TestQuote"], ApiError>({
    queryKey: ["test-quote", plan],
    queryFn: () => body(POST("/api/tests/quote", { body: plan })),
    enabled: named.length > 0,
    placeholderData: keepPreviousData,
    retry: false,
  });
  const send = useSend(
    (_: null, headers) => body(POST("/api/tests", { body: plan, headers })),
    (made) => {
      forget();
      say(`${made.code} is planned: ${made.left} specimens in random order.`);
      void navigate(`/test/${made.code}`);
    },
  );
  const errors: Record<string, string> = { ...quote.error?.fields, ...send.error?.fields };
  const priced = quote.error ? undefined : quote.data;
  const confirm = priced?.concerns.some((one) => one.must_confirm) ?? false;
  return (
    <Form
      noValidate
      className="plan-test"
      onSubmit={(event) => {
        event.preventDefault();
        send.mutate(null);
      }}
    >
      <div className="d-grid gap-3">
        <How methods={methods} method={method} setup={setup} draft={draft} errors={errors} onChange={set} />
        <SideBySide method={method} materials={materials} draft={draft} errors={errors} onChange={set} />
        <HowMany method={method} draft={draft} errors={errors} each={priced?.each} onChange={set} />
      </div>
      <aside className="plan-side">
        <TestQuoteCard
          quote={priced}
          waiting={named.length === 0}
          refused={quote.error ? (Object.values(quote.error.fields)[0] ?? quote.error.message) : null}
        />
        {confirm && (
          <TextField
            label="Why it is compared all the same"
            value={draft.reason}
            onChange={(reason) => set({ reason })}
            error={send.error?.fields.concerns_reason}
            lines={2}
            className="mt-2"
          />
        )}
        <Button
          type="submit"
          size="lg"
          className="w-100 mt-3"
          disabled={!priced || quote.isPlaceholderData || send.isPending || (confirm && !draft.reason.trim())}
        >
          {priced ? `Plan ${priced.specimens} specimens` : "Plan the test"}
        </Button>
        <Trouble error={send.error} className="mt-2" />
      </aside>
    </Form>
  );
}

type PartProps = {
  method: Method;
  draft: Draft;
  errors: Record<string, string>;
  onChange: (changes: Partial<Draft>) => void;
};

/** The groups that are compared. */
function SideBySide({
  method,
  materials,
  draft,
  errors,
  onChange,
}: PartProps & { materials: Schemas["MaterialStanding"][] }) {
  // The server counts only the groups that have a material.
  const named = draft.groups.filter((one) => one.material_id);
  const placeOf = (index: number) => named.indexOf(draft.groups[index]!);
  return (
    <section className="panel">
      <h2>What, side by side</h2>
      <p className="text-secondary">
        Each material at its own issued set and finish route, never on another material’s numbers. The reference may be
        something bought in.
      </p>
      {draft.groups.map((group, index) => (
        <GroupFields
          key={index}
          number={index + 1}
          group={group}
          method={method}
          materials={materials}
          errors={errors}
          place={placeOf(index)}
          onChange={(changes) => onChange({ groups: changed(draft.groups, index, changes) })}
          onRemove={draft.groups.length > 1 ? () => onChange({ groups: without(draft.groups, index) }) : undefined}
        />
      ))}
      <Button variant="quiet" onClick={() => onChange({ groups: oneMore(draft.groups) })}>
        One more group
      </Button>
      {errors.groups && <p className="trouble mt-2 mb-0">{errors.groups}</p>}
    </section>
  );
}

function How({ methods, method, setup, draft, errors, onChange }: PartProps & { methods: Method[]; setup: Row }) {
  const briefs = useBriefs();
  return (
    <section className="panel">
      <h2>How</h2>
      <div className="two">
        <Choice
          label="Method"
          value={method.key}
          onChange={(key) => onChange({ method: key })}
          options={methods.map((one) => [one.key, one.name])}
        />
        <Choice
          label="For the brief"
          value={draft.brief}
          none="none: to know"
          onChange={(brief) => onChange({ brief })}
          options={(briefs.data ?? []).map((one) => [one.id, one.name])}
          error={errors.brief_id}
        />
      </div>
      <p className="mt-2 mb-1">
        {method.tells} <span className="text-secondary">Does not tell: {method.does_not_tell}</span>
      </p>
      <p className="small text-secondary">
        Fixture: {method.fixture}{" "}
        {method.specimen_title
          ? `Specimen: ${method.specimen_title.toLowerCase()}, from the coupon library.`
          : "Tried on a real part."}
      </p>
      {method.cautions.map((caution) => (
        <p key={caution} className="caution mb-2">
          {caution}
        </p>
      ))}
      <div className="three mt-2">
        {method.setup.map((field) => (
          <FieldOf
            key={`${method.key}.${field.key}`}
            field={field}
            row={setup}
            error={errors[field.key]}
            onRow={(changes) =>
              onChange({ setup: { ...draft.setup, [method.key]: { ...draft.setup[method.key], ...changes } } })
            }
          />
        ))}
      </div>
    </section>
  );
}

function HowMany({ method, draft, errors, each, onChange }: PartProps & { each: number | undefined }) {
  return (
    <section className="panel">
      <h2>How many</h2>
      <div className="three">
        <NumberField
          label="Difference that matters"
          unit="%"
          value={draft.detect}
          onChange={(detect) => onChange({ detect })}
          error={errors["wanted.detect_pct"]}
          hint="of the mean; empty: what a dozen show"
          disabled={draft.each !== null || method.pattern === "staircase"}
        />
        <NumberField
          label="Known spread"
          unit="%"
          value={draft.cv}
          onChange={(cv) => onChange({ cv })}
          hint={`usual for this method: ${method.usual_cv_pct}`}
          disabled={draft.each !== null || method.pattern === "staircase"}
        />
        <NumberField
          label="Or so many in each group"
          value={draft.each}
          onChange={(count) => onChange({ each: count })}
          error={errors.each}
          hint={each === undefined ? undefined : `now ${each}`}
        />
        <NumberField
          label="Age at the test"
          unit="h"
          value={draft.age}
          onChange={(age) => onChange({ age })}
          hint="after cure, the same for all"
          error={errors.age_h}
        />
      </div>
      <TextField label="Note" value={draft.note} onChange={(note) => onChange({ note })} className="mt-2" />
    </section>
  );
}

/** Conditions a requirement asks for, from the address: setup.temp_c=10 and the like. */
function asked(query: URLSearchParams): Record<string, Row> {
  const method = query.get("method") ?? "";
  const held = [...query.entries()].filter(([key]) => key.startsWith("setup."));
  return held.length
    ? {
        [method]: Object.fromEntries(
          held.map(([key, value]) => [
            key.slice(6),
            value !== "" && !Number.isNaN(Number(value)) ? Number(value) : value,
          ]),
        ),
      }
    : {};
}
