import { useRef } from "react";
import Button from "react-bootstrap/Button";
import Form from "react-bootstrap/Form";
import { Link, useNavigate, useParams } from "react-router";
import { TextField } from "../../shared/fields/TextField";
import { PageHead } from "../../app/PageHead";
import { usePageKeys } from "../../app/shortcuts";
import { body, POST, type Schemas } from "../../shared/api/client";
import { useSend } from "../../shared/api/useSend";
import { moment, plural, THIN, quantity, plain } from "../../shared/format";
import { Loaded } from "../../shared/Loading";
import { Trouble } from "../../shared/Trouble";
import { FieldOf } from "./MethodFields";
import { done, type Group, type Row, type Specimen, type TestView, useTest } from "./model";
import { PastReads } from "./PastReads";
import { SpecimenPhotos } from "./SpecimenPhotos";
import { useSpecimenReading } from "./useSpecimenReading";
import "./test.scss";

/** One specimen at a time: the next step, its caution, its readings; Enter goes on. */
export default function BenchPage() {
  const { code = "", specimen = "" } = useParams();
  const test = useTest(code);
  return (
    <Loaded page query={test}>
      {(held) => {
        const one = held.specimens.find((each) => each.code === specimen);
        const group = held.groups.find((each) => each.number === one?.group);
        return one && group ? (
          <Bench
            key={held.method.against ? `${one.id} ${one.reads.length}` : one.id}
            test={held}
            specimen={one}
            group={group}
          />
        ) : (
          <p>There is no specimen {specimen} in this test.</p>
        );
      }}
    </Loaded>
  );
}

function Bench({ test, specimen, group }: { test: TestView; specimen: Specimen; group: Group }) {
  const form = useRef<HTMLFormElement>(null);
  const { method } = test;
  const series = method.against;
  const reading = useSpecimenReading(test, specimen, group);
  const { row, change, errors, shut, keep } = reading;
  const submit = () => form.current?.requestSubmit();
  usePageKeys([{ keys: "ctrl+enter", does: "keep the reading", run: submit }]);
  const next = () => toNextField(form.current);
  return (
    <>
      <PageHead
        title={`${specimen.code}, ${group.name}`}
        sub={`${method.name.toLowerCase()} · turn ${specimen.turn} · ${plural(test.left, "specimen")} left`}
      >
        <Link className="btn btn-quiet d-inline-flex align-items-center" to={`/test/${test.code}`}>
          Order sheet and results
        </Link>
      </PageHead>
      {specimen.gone_reason && <p className="caution">Gone: {specimen.gone_reason}</p>}
      {!specimen.ready && (
        <p className="caution">
          {group.name}
          {specimen.print !== null && group.prints.length > 1 && `, print ${specimen.print},`} is not printed and cured
          yet: say so on the test’s page first, its age counts from then.
        </p>
      )}
      <div className="bench">
        <Form
          ref={form}
          noValidate
          className="panel"
          aria-label={`Reading of ${specimen.code}`}
          onSubmit={(event) => {
            event.preventDefault();
            keep();
          }}
          onKeyDownCapture={(event) => {
            // Ahead of the button in focus, which would take it for a press.
            if (event.key !== "Enter" || !(event.ctrlKey || event.metaKey)) return;
            event.preventDefault();
            event.stopPropagation();
            submit();
          }}
        >
          {method.pattern === "staircase" && (
            <p className="mb-2">
              <span className="text-secondary">Drop from</span>{" "}
              <span className="drop-height num">{group.next_height_m}</span> m
            </p>
          )}
          {series && (
            <div className="mb-3">
              <FieldOf
                field={series}
                row={row}
                onRow={change}
                error={errors[series.key]}
                disabled={shut}
                onNext={next}
                autoFocus
              />
              {specimen.reads.length > 0 && (
                <small className="text-secondary">
                  read so far at {specimen.reads.map((one) => one.at_value).join(", ")}
                </small>
              )}
            </div>
          )}
          <Steps test={test} row={row} onRow={change} errors={errors} shut={shut} onNext={next} />
          {method.breaks_in && reading.fields.some((field) => field.key === "outside") && (
            <p className="small text-secondary">
              A break counts {method.breaks_in}; a break elsewhere is kept and flagged.
            </p>
          )}
          <KeepIt reading={reading} />
        </Form>
        <BenchSide test={test} specimen={specimen} group={group} preview={reading.preview} />
      </div>
    </>
  );
}

/** The field after the one in focus, then the button that keeps it all. */
function toNextField(form: HTMLFormElement | null) {
  const all = [
    ...(form?.querySelectorAll<HTMLElement>("input:not([type=radio]):not(:disabled), .answer-buttons") ?? []),
  ];
  const at = all.findIndex((one) => one === document.activeElement || one.contains(document.activeElement));
  const target = all[at + 1] ?? form?.querySelector<HTMLElement>("button[type=submit]");
  (target?.matches(".answer-buttons")
    ? (target.querySelector<HTMLElement>("[aria-pressed=true]") ?? target.querySelector<HTMLElement>("button"))
    : target
  )?.focus();
}

/** A note, why it is corrected, and the button that keeps the reading. */
function KeepIt({ reading }: { reading: ReturnType<typeof useSpecimenReading> }) {
  const { field, shut, corrects } = reading;
  return (
    <>
      <TextField label="Note" {...field("note")} lines={1} disabled={shut} className="mb-3" />
      {corrects && <TextField label="Why it is corrected" {...field("reason")} className="mb-3" />}
      <Trouble error={reading.refused} className="mb-2" />
      <Button type="submit" size="lg" disabled={!reading.ready}>
        {corrects ? "Save the correction" : "Save and next"}
      </Button>{" "}
      <span className="text-secondary no-print">
        <kbd className="kbd">Ctrl</kbd> <kbd className="kbd">Enter</kbd>
      </span>
    </>
  );
}

type StepsProps = {
  test: TestView;
  row: Row;
  onRow: (changes: Row) => void;
  errors: Record<string, string>;
  shut: boolean;
  onNext: () => void;
};

/** The method's steps in order. What a step needs comes from the steps before it: the section before the force. */
function Steps({ test: { method }, row, onRow, errors, shut, onNext }: StepsProps) {
  const asked = (step: (typeof method.steps)[number]) =>
    step.reads.filter((field) => !(method.pattern === "staircase" && field.key === "height_m"));
  const first = method.against ? undefined : method.steps.flatMap(asked)[0];
  let open = true;
  return (
    <ol className="bench-steps">
      {method.steps.map((step) => {
        const now = open;
        const all = step.reads.every((field) => done(field, row));
        open = open && all;
        return (
          <li key={step.do} className={all && step.reads.some((field) => row[field.key] != null) ? "step-done" : ""}>
            <p className="do">{step.do}</p>
            {step.caution && <p className="caution">{step.caution}</p>}
            <div className="reads">
              {asked(step).map((field) => (
                <FieldOf
                  key={field.key}
                  field={field}
                  row={row}
                  onRow={onRow}
                  error={errors[field.key]}
                  disabled={shut || !now}
                  onNext={onNext}
                  autoFocus={field === first}
                />
              ))}
            </div>
          </li>
        );
      })}
    </ol>
  );
}

type SideProps = { test: TestView; specimen: Specimen; group: Group; preview: Schemas["SpecimenPreview"] | undefined };

/** What the readings give, and where the specimen comes from. */
function BenchSide({ test, specimen, group, preview }: SideProps) {
  const navigate = useNavigate();
  const gone = useSend(
    (why: string) =>
      body(
        POST("/api/specimens/{id_or_code}/gone", {
          params: { path: { id_or_code: specimen.code } },
          body: { reason: why },
        }),
      ),
    (after) => void navigate(after.next_code ? `/test/${test.code}/${after.next_code}` : `/test/${test.code}`),
  );
  return (
    <aside className="d-grid gap-3">
      <section className="panel" aria-label="Result so far" aria-live="polite">
        <h2>Result so far</h2>
        {preview?.values.length ? (
          preview.values.map((one) => (
            <p key={one.name} className="mb-1">
              <span className="key-number num">
                {one.unbroken && "more than "}
                {quantity(one.value, one.unit, one.decimals)}
              </span>
              <span className="text-secondary d-block">
                {one.name.toLowerCase()}
                {one.unbroken && ", it did not break"}
              </span>
            </p>
          ))
        ) : (
          <p className="text-secondary mb-1">
            {test.method.pattern === "staircase"
              ? "A drop says broke or not; the median belongs to the group."
              : "Follows from the readings as they are typed."}
          </p>
        )}
        {preview?.notices.map((one) => (
          <p key={one.code} className="caution mt-2 mb-0">
            {one.message}
          </p>
        ))}
      </section>
      <section className="panel small" aria-label="Where it comes from">
        <p className="mb-1">
          {[
            group.set_code,
            group.printer,
            group.exposure_s !== null && `${plain(group.exposure_s)}${THIN}s`,
            group.cure_min !== null && `cure ${group.cure_min}${THIN}min`,
            group.orientation,
            specimen.place,
          ]
            .filter(Boolean)
            .join(" · ") || "bought in"}
        </p>
        {specimen.cured_at && (
          <p className="mb-1">
            Cured {moment(specimen.cured_at)}
            {test.age_h !== null && `, to be tested at ${test.age_h} h`}
          </p>
        )}
        <p className="mb-0 text-secondary">Fixture: {test.method.fixture}</p>
      </section>
      <SpecimenPhotos specimen={specimen} />
      <PastReads test={test} specimen={specimen} />
      {!specimen.reads.length && !specimen.gone_reason && (
        <div>
          {["lost", "damaged before the test"].map((why) => (
            <Button key={why} variant="link" className="p-0 me-3" onClick={() => gone.mutate(why)}>
              It is {why}
            </Button>
          ))}
          <Trouble error={gone.error} />
        </div>
      )}
    </aside>
  );
}
