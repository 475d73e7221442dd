import { useEffect, useState } from "react";
import Button from "react-bootstrap/Button";
import { Link, useParams } from "react-router";
import { PageHead } from "../../app/PageHead";
import { body, POST, PUT, type Schemas } from "../../shared/api/client";
import { useGet } from "../../shared/api/useGet";
import { useSend } from "../../shared/api/useSend";
import { chance, day, moment, plural, THIN } from "../../shared/format";
import { Loaded } from "../../shared/Loading";
import { ReasonDialog } from "../../shared/ReasonDialog";
import { Trouble } from "../../shared/Trouble";
import { type Symptom, Symptoms } from "../prints/Symptoms";
import { Checks } from "./Checks";
import "./trace.scss";

export type Trace = Schemas["FailureTrace"];
type Cause = Schemas["RankedCause"];

/** Causes shown before the rest is asked for. */
const FEW = 5;

/** Why did it fail? What is seen, the causes it speaks for, and what settles it. */
export default function WhyPage() {
  const { code = "" } = useParams();
  const query = useGet("/api/traces/{id_or_code}", { params: { path: { id_or_code: code } } });
  return (
    <Loaded query={query} page>
      {(trace) => <Why trace={trace} />}
    </Loaded>
  );
}

function Why({ trace }: { trace: Trace }) {
  const { print, result } = trace;
  const sub = print
    ? [print.material, print.printer, print.set_code, print.printed_at && moment(print.printed_at)]
        .filter(Boolean)
        .join(" · ")
    : "of no print in the log";
  return (
    <>
      <PageHead title="Why did it fail?" sub={trace.code}>
        {print && (
          <Link className="btn btn-quiet" to={`/log/${print.code}`}>
            {print.code}
          </Link>
        )}
      </PageHead>
      <div className="trace">
        <Seen key={trace.id} trace={trace} />
        <section className="panel causes" aria-label="Causes">
          <h2>Why, by this shop’s record</h2>
          <p className="text-secondary mb-2">{[print?.code, sub].filter(Boolean).join(" · ")}</p>
          {[...trace.notices, ...result.warnings].map((one) => (
            <p key={one.message} className="caution mb-2">
              {one.message}
            </p>
          ))}
          <Causes trace={trace} />
        </section>
        <aside className="panel settles" aria-label="What settles it">
          <Settled trace={trace} />
          <Checks trace={trace} />
          <Remedy trace={trace} />
          <Confirmed trace={trace} />
        </aside>
      </div>
    </>
  );
}

/** What is seen, chosen from drawings; the ranking follows each tap. */
function Seen({ trace }: { trace: Trace }) {
  const [symptoms, setSymptoms] = useState(trace.symptoms as Symptom[]);
  useEffect(() => setSymptoms(trace.symptoms as Symptom[]), [trace.symptoms]);
  const save = useSend((chosen: Symptom[]) =>
    body(
      PUT("/api/traces/{trace_id}/symptoms", {
        params: { path: { trace_id: trace.id } },
        body: { version: trace.version, symptoms: chosen },
      }),
    ),
  );
  return (
    <section className="panel seen" aria-label="What do you see?">
      <h2>What do you see?</h2>
      <Symptoms
        legend={false}
        value={symptoms}
        onChange={(chosen) => {
          setSymptoms(chosen);
          save.mutate(chosen);
        }}
      />
      <Trouble error={save.error} />
    </section>
  );
}

function Causes({ trace }: { trace: Trace }) {
  const [all, setAll] = useState(false);
  const { causes } = trace.result;
  const other = causes.find((one) => one.key === "other");
  const shown = all ? causes : causes.filter((one) => one.key !== "other").slice(0, FEW);
  const links = Object.fromEntries(trace.record.map((one) => [one.key, one]));
  return (
    <>
      <ol className="plain-list">
        {shown.map((one, at) => (
          <CauseRow key={one.key} cause={one} leads={at === 0} links={links} trace={trace} />
        ))}
        {!all && other && <CauseRow cause={other} leads={false} links={links} trace={trace} />}
      </ol>
      {causes.length > shown.length && (
        <Button variant="link" className="p-0" onClick={() => setAll(true)}>
          All {causes.length} causes
        </Button>
      )}
      <Sources causes={causes} />
    </>
  );
}

/** Where the shares come from that causes are ranked by, each with the causes it stands behind. */
function Sources({ causes }: { causes: Cause[] }) {
  const texts = [...new Set(causes.map((one) => one.source))];
  return (
    <details className="small mt-3">
      <summary>Where this knowledge comes from</summary>
      <ul className="plain-list text-secondary mt-2">
        {texts.map((text) => (
          <li key={text} className="mb-2">
            {text} <b>For:</b>{" "}
            {causes
              .filter((one) => one.source === text)
              .map((one) => one.name.toLowerCase())
              .join(", ")}
            .
          </li>
        ))}
      </ul>
    </details>
  );
}

type RowProps = {
  cause: Cause;
  leads: boolean;
  links: Record<string, Schemas["RecordFact"]>;
  trace: Trace;
};

function CauseRow({ cause, leads, links, trace }: RowProps) {
  const [asking, setAsking] = useState(false);
  const keep = useSend(
    (note: string) =>
      body(
        POST("/api/traces/{trace_id}/cause", {
          params: { path: { trace_id: trace.id } },
          body: { cause: cause.key as Schemas["CauseInput"]["cause"], note },
        }),
      ),
    () => setAsking(false),
  );
  return (
    <li className={leads ? "cause leads" : "cause"} aria-label={`${cause.name}, ${chance(cause.probability)}`}>
      <div className="line">
        <b>{cause.name}</b>
        <span className="bar" aria-hidden>
          <span style={{ width: `${100 * cause.probability}%` }} />
        </span>
        <span className="num">{chance(cause.probability)}</span>
      </div>
      <div className="reasons">
        <Reasons sign="+" reasons={cause.for} links={links} />
        <Reasons sign="−" reasons={cause.against} links={links} />
      </div>
      {!trace.found && (
        <Button
          variant="link"
          size="sm"
          className="p-0"
          disabled={keep.isPending}
          onClick={() => (cause.key === "other" ? setAsking(true) : keep.mutate(""))}
        >
          It was this
        </Button>
      )}
      {!asking && <Trouble error={keep.error} />}
      {asking && (
        <ReasonDialog
          title="What was it?"
          label="What it was"
          action="Save"
          saving={keep.isPending}
          error={keep.error}
          onSave={(note) => keep.mutate(note)}
          onClose={() => setAsking(false)}
        />
      )}
    </li>
  );
}

/** What speaks for a cause or against it; a fact of the record in its own words, and with the place it comes from. */
function Reasons({ sign, reasons, links }: { sign: "+" | "−"; reasons: Cause["for"]; links: RowProps["links"] }) {
  if (!reasons.length) return null;
  return (
    <ul className={sign === "+" ? "for" : "against"} aria-label={sign === "+" ? "For it" : "Against it"}>
      {reasons.map((one) => {
        const fact = links[one.key];
        const words = fact?.words ?? one.words;
        return (
          <li key={one.key}>
            <b aria-hidden>{sign}</b> {fact?.link ? <Link to={fact.link}>{words}</Link> : words}
          </li>
        );
      })}
    </ul>
  );
}

/** The cause that was found, and the way back. */
function Settled({ trace }: { trace: Trace }) {
  const back = useSend((_: null) =>
    body(POST("/api/traces/{trace_id}/cause/withdraw", { params: { path: { trace_id: trace.id } } })),
  );
  const { found } = trace;
  if (!found) return null;
  return (
    <div className="found-cause" role="status">
      <h2>It was: {found.note || found.name}</h2>
      <p className="mb-2">
        {found.initials}, {day(found.confirmed_at)}. It weighs in when another print fails.{" "}
        <Button
          variant="link"
          className="p-0 align-baseline"
          disabled={back.isPending}
          onClick={() => back.mutate(null)}
        >
          Withdraw it
        </Button>
      </p>
      {trace.print && (
        <Link className="btn btn-outline-primary w-100 mb-3" to={`/log/new?from=${trace.print.code}`}>
          Put right: print it again
        </Link>
      )}
      <Trouble error={back.error} />
    </div>
  );
}

/** What puts the leading cause right, or the one that was found. */
function Remedy({ trace }: { trace: Trace }) {
  const { causes } = trace.result;
  const cause = causes.find((one) => one.key === trace.found?.key) ?? causes[0];
  if (!cause) return null;
  const page = trace.remedies[cause.remedy.key];
  return (
    <section aria-label="Remedy">
      <h2>{trace.found ? "What puts it right" : `If it is: ${cause.name.toLowerCase()}`}</h2>
      <p className="mb-2">
        <b>{cause.remedy.name}.</b> {cause.remedy.how}
      </p>
      {page?.link && (
        <Link className="btn btn-primary w-100 mb-2" to={page.link}>
          {page.words}
        </Link>
      )}
      <p className="caution">
        Gloves and eye protection. Search the vat for cured pieces before the next print: they break screens. The safety
        sheet and local rules come first.
      </p>
    </section>
  );
}

/** Causes found in this shop so far. */
function Confirmed({ trace }: { trace: Trace }) {
  if (!trace.confirmed.length) return null;
  const sum = trace.confirmed.reduce((total, one) => total + one.count, 0);
  return (
    <p className="small text-secondary mb-0">
      {plural(sum, "cause")} found here so far:{" "}
      {trace.confirmed.map((one) => `${one.name.toLowerCase()}${THIN}${one.count}`).join(", ")}. They weigh in; each is
      withdrawn <Link to="/log/why">at its own trace</Link>.
    </p>
  );
}
