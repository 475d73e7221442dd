import { useState } from "react";
import Button from "react-bootstrap/Button";
import Form from "react-bootstrap/Form";
import { Link, useNavigate, useParams } from "react-router";
import { TextField } from "../../shared/fields/TextField";
import { PageHead } from "../../app/PageHead";
import { useSay } from "../../app/toasts";
import { body, POST, type Schemas } from "../../shared/api/client";
import { useSend } from "../../shared/api/useSend";
import { Loaded } from "../../shared/Loading";
import { StateMark } from "../../shared/StateMark";
import { Trouble } from "../../shared/Trouble";
import { Requirements } from "./Requirements";
import "./qualify.scss";
import { useGet } from "../../shared/api/useGet";

/** One set against one brief: each requirement beside its evidence, the verdict in words, and the signature. */
export default function VerdictPage() {
  const { brief = "", set = "" } = useParams();
  const standing = useGet("/api/briefs/{brief_id}", { params: { path: { brief_id: brief } } });
  const query = useGet("/api/qualify/{brief}/{set_code}", { params: { path: { brief, set_code: set } } });
  const held = query.data;
  return (
    <>
      <PageHead
        title={held && standing.data ? `${held.material} for ${standing.data.name}` : "Verdict"}
        sub={held && <Link to={`/sets/${held.set_code}`}>{`${held.set_code} on ${held.printer}`}</Link>}
      >
        <Link className="btn btn-quiet d-inline-flex align-items-center" to={`/qualify/${brief}`}>
          All candidates
        </Link>
      </PageHead>
      <Loaded query={standing}>
        {(asked) => (
          <Loaded query={query}>
            {(one) => (
              <div className="verdict">
                <section className="panel" aria-label="Requirements and evidence">
                  {asked.use && <p className="text-secondary">{asked.use}</p>}
                  <Requirements brief={asked} candidate={one} />
                </section>
                <aside>
                  <Overall candidate={one} />
                  {one.verdict !== "lapsed" && (
                    <Sign brief={asked} candidate={one} onStale={() => void query.refetch()} />
                  )}
                </aside>
              </div>
            )}
          </Loaded>
        )}
      </Loaded>
    </>
  );
}

export function Overall({
  candidate,
  verdict,
  why,
}: {
  candidate: Schemas["Candidate"];
  verdict?: string;
  why?: string[];
}) {
  const reasons = [...new Set([...(why ?? []), ...candidate.reasons])];
  return (
    <section className="panel mb-3" aria-label="Verdict">
      <h2 className="visually-hidden">Verdict</h2>
      <p className="key-words mb-2">
        <StateMark name={verdict ?? candidate.verdict} />
      </p>
      {reasons.length > 0 ? (
        <ul className="mb-0">
          {reasons.map((one) => (
            <li key={one}>{one}</li>
          ))}
        </ul>
      ) : (
        <p className="mb-0">Every requirement is met by evidence that counts.</p>
      )}
    </section>
  );
}

function Sign({
  brief,
  candidate,
  onStale,
}: {
  brief: Schemas["BriefView"];
  candidate: Schemas["Candidate"];
  onStale: () => void;
}) {
  const say = useSay();
  const navigate = useNavigate();
  const [initials, setInitials] = useState("");
  const [scope, setScope] = useState("");
  const send = useSend(
    (_: null, headers) =>
      body(
        POST("/api/qualifications", {
          body: {
            brief_id: brief.id,
            set_code: candidate.set_code,
            evidence_hash: candidate.evidence_hash,
            initials,
            scope,
            seen: candidate.judged.map((one) => ({
              property: one.demand.property,
              status: one.status,
              source: one.used?.source ?? null,
            })),
          },
          headers,
        }),
      ),
    (made) => {
      say(`${made.code} is signed.`);
      void navigate(`/qualify/records/${made.code}`);
    },
  );
  const errors = send.error?.fields ?? {};
  return (
    <Form
      noValidate
      className="panel"
      aria-label="Sign"
      onSubmit={(event) => {
        event.preventDefault();
        send.mutate(null, { onError: (error) => error.status === 409 && onStale() });
      }}
    >
      <h2>Sign</h2>
      <p className="text-secondary">
        What is signed is kept as it is now and cannot be changed; later events may lapse it.
      </p>
      <TextField
        label="Signed for"
        value={scope}
        onChange={setScope}
        lines={2}
        placeholder="Which parts, up to which size, and what not"
        className="mb-2"
      />
      <Form.Group controlId="sign-initials" className="mb-2">
        <Form.Label>Your initials, as a signature</Form.Label>
        <Form.Control
          value={initials}
          autoComplete="off"
          isInvalid={Boolean(errors.initials)}
          onChange={(event) => setInitials(event.target.value)}
          style={{ maxWidth: "8rem" }}
        />
        <Form.Control.Feedback type="invalid">{errors.initials}</Form.Control.Feedback>
      </Form.Group>
      <p className="caution">
        Not for biocompatibility, food contact, pressure vessels or load-bearing safety parts: those belong to licensed
        testing.
      </p>
      <Trouble error={send.error && !errors.initials ? send.error : null} className="mb-2" />
      <Button type="submit" disabled={send.isPending || !initials.trim()}>
        Sign as {candidate.verdict}
      </Button>
    </Form>
  );
}
