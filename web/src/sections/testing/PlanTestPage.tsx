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
import { type Entry, useEntry } from "../../shared/fields/useEntry";
import { Loaded } from "../../shared/Loading";
import { Trouble } from "../../shared/Trouble";
import { useStanding } from "../../shared/useStanding";
import { GroupFields } from "./GroupFields";
import { changed, type GroupDraft, NOTHING, oneMore, without } from "./groups";
import { FieldOf } from "./MethodFields";
import { type Method, type Row, useBriefs, useMethods } from "./model";
import { TestQuoteCard } from "./TestQuoteCard";
import "./test.scss";
import { type Filled, isFilled } from "../../shared/filled";

type Draft = {
  method: string;
  brief_id: string;
  setup: Record<string, Row>;
  groups: GroupDraft[];
  detect_pct: number | null;
  cv_pct: number | null;
  each: number | null;
  prints: number | null;
  age_h: number | null;
  note: string;
  concerns_reason: string;
};

/** A test from its method to the order sheet: what it costs and what is unfair about it is said before it is made. */
export default function PlanTestPage() {
  const methods = useMethods();
  const materials = useStanding();
  return (
    <>
      <PageHead title="Plan a test" />
      <Loaded query={methods}>
        {(all) =>
          isFilled(all) && <Loaded query={materials}>{(known) => <Plan methods={all} materials={known} />}</Loaded>
        }
      </Loaded>
    </>
  );
}

function Plan({ methods, materials }: { methods: Filled<Method>; materials: Schemas["MaterialStanding"][] }) {
  const navigate = useNavigate();
  const say = useSay();
  const [query] = useSearchParams();
  // A link that says what is wanted brings a plan of its own; several materials stand side by side.
  const wanted = query.getAll("material");
  const entry = useEntry<Draft>(
    {
      method: query.get("method") ?? "",
      brief_id: query.get("brief") ?? "",
      setup: asked(query),
      groups:
        wanted.length > 1
          ? wanted.map((material_id, index) => ({ ...NOTHING, material_id, is_reference: index === 0 }))
          : [
              { ...NOTHING, material_id: wanted[0] ?? "", set_code: query.get("set") ?? "", is_reference: true },
              NOTHING,
            ],
      detect_pct: null,
      cv_pct: null,
      each: Number(query.get("each")) || null,
      prints: null,
      age_h: null,
      note: "",
      concerns_reason: "",
    },
    query.get("set") || wanted.length > 1 ? `test.plan.${query.toString()}` : "test.plan",
  );
  const { values: draft } = entry;
  const method = methods.find((one) => one.key === draft.method) ?? methods[0];
  const usual = Object.fromEntries(method.setup.map((field) => [field.key, field.usual]));
  const setup: Row = { ...usual, ...draft.setup[method.key] };
  const named = draft.groups.filter((one) => one.material_id);
  const plan: Schemas["TestPlan"] = {
    method: method.key,
    brief_id: draft.brief_id || null,
    setup: Object.fromEntries(Object.entries(setup).filter(([, value]) => value !== null)),
    groups: named.map((one) => ({
      ...one,
      set_code: one.set_code || null,
      condition: method.conditions.includes(one.condition) ? one.condition : "",
      finish_route_id: null,
    })),
    wanted: { detect_pct: draft.detect_pct, cv_pct: draft.cv_pct, power: 0.8 },
    each: draft.each,
    prints: draft.prints,
    age_h: draft.age_h,
    note: draft.note,
    concerns_reason: draft.concerns_reason || null,
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
      entry.forget();
      say(`${made.code} is planned: ${made.left} specimens in random order.`);
      void navigate(`/test/${made.code}`);
    },
  );
  const { field, errors } = entry.checked(quote.error, send.error);
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
        <How methods={methods} method={method} setup={setup} entry={entry} errors={errors} />
        <SideBySide method={method} materials={materials} entry={entry} errors={errors} />
        <HowMany method={method} entry={entry} errors={errors} quote={priced} />
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
            {...field("concerns_reason")}
            error={send.error?.fields.concerns_reason}
            lines={2}
            className="mt-2"
          />
        )}
        <Button
          type="submit"
          size="lg"
          className="w-100 mt-3"
          disabled={!priced || quote.isPlaceholderData || send.isPending || (confirm && !draft.concerns_reason.trim())}
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
  entry: Entry<Draft>;
  errors: Record<string, string>;
};

/** The groups that are compared. */
function SideBySide({
  method,
  materials,
  entry: { values: draft, set },
  errors,
}: PartProps & { materials: Schemas["MaterialStanding"][] }) {
  // The server counts only the groups that have a material.
  const named = draft.groups.filter((one) => one.material_id);
  const placeOf = (group: GroupDraft) => named.indexOf(group);
  return (
    <section className="panel">
      <h2>Materials to compare</h2>
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
          place={placeOf(group)}
          onChange={(changes) => set({ groups: changed(draft.groups, index, changes) })}
          onRemove={draft.groups.length > 1 ? () => set({ groups: without(draft.groups, index) }) : undefined}
        />
      ))}
      <Button variant="quiet" onClick={() => set({ groups: oneMore(draft.groups) })}>
        One more group
      </Button>
      {errors.groups && <p className="trouble mt-2 mb-0">{errors.groups}</p>}
    </section>
  );
}

function How({ methods, method, setup, entry, errors }: PartProps & { methods: Method[]; setup: Row }) {
  const { values: draft, set } = entry;
  const { field: entered } = entry.checked();
  const briefs = useBriefs();
  return (
    <section className="panel">
      <h2>How</h2>
      <div className="two">
        <Choice
          label="Method"
          value={method.key}
          onChange={(key) => set({ method: key })}
          options={methods.map((one) => [one.key, one.name])}
        />
        <Choice
          label="For the brief"
          {...entered("brief_id")}
          none="no brief"
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
              set({ setup: { ...draft.setup, [method.key]: { ...draft.setup[method.key], ...changes } } })
            }
          />
        ))}
      </div>
    </section>
  );
}

function HowMany({ method, entry, errors, quote }: PartProps & { quote: Schemas["TestQuote"] | undefined }) {
  const { values: draft } = entry;
  const { field } = entry.checked();
  return (
    <section className="panel">
      <h2>How many</h2>
      <div className="three">
        <NumberField
          label="Difference that matters"
          unit="%"
          {...field("detect_pct")}
          error={errors["wanted.detect_pct"]}
          hint="of the mean; empty: what a dozen show"
          disabled={draft.each !== null || method.pattern === "staircase"}
        />
        <NumberField
          label="Known spread"
          unit="%"
          {...field("cv_pct")}
          hint={`usual for this method: ${method.usual_cv_pct}`}
          disabled={draft.each !== null || method.pattern === "staircase"}
        />
        <NumberField
          label="Or fix the number per group"
          {...field("each")}
          error={errors.each}
          hint={quote && `now ${quote.each}`}
        />
        <NumberField
          label="Prints of each group"
          {...field("prints")}
          error={errors.prints}
          hint={quote ? `now ${quote.prints}: ${quote.prints_from}` : undefined}
        />
        <NumberField
          label="Age at the test"
          unit="h"
          {...field("age_h")}
          hint="after cure, the same for all"
          error={errors.age_h}
        />
      </div>
      <TextField label="Note" {...field("note")} className="mt-2" />
    </section>
  );
}

/** Conditions a requirement asks for, from the address: setup.temp_c=10 and the like. */
function asked(query: URLSearchParams): Record<string, Row> {
  const method = query.get("method") ?? "";
  const conditions = [...query.entries()].filter(([key]) => key.startsWith("setup."));
  return conditions.length
    ? {
        [method]: Object.fromEntries(
          conditions.map(([key, value]) => [
            key.slice(6),
            value !== "" && !Number.isNaN(Number(value)) ? Number(value) : value,
          ]),
        ),
      }
    : {};
}
