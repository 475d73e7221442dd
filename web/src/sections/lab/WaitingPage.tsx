import { useQueryClient } from "@tanstack/react-query";
import { useState } from "react";
import Button from "react-bootstrap/Button";
import { Link } from "react-router";
import { PageHead } from "../../app/PageHead";
import { useTechnician } from "../../app/people/technician";
import { useSay } from "../../app/toasts";
import { refresh } from "../../shared/api/refresh";
import { EmptyState } from "../../shared/EmptyState";
import { FormDialog } from "../../shared/fields/FormDialog";
import { TextField } from "../../shared/fields/TextField";
import { moment, plural } from "../../shared/format";
import { BothVersions } from "../../shared/outbox/BothVersions";
import type { Entry } from "../../shared/outbox/device";
import { discard, saidIn, sendAll, sendEntry, useOutbox } from "../../shared/outbox/outbox";

/** What was entered in this device and is not on the server yet, and what it refused. */
export default function WaitingPage() {
  const { initials } = useTechnician();
  const { entries, sending } = useOutbox();
  const queries = useQueryClient();
  const mine = entries.filter((one) => one.by === initials && !one.refused);
  const send = async () => {
    await sendAll();
    await refresh(queries);
  };
  return (
    <>
      <PageHead title="Waiting entries" sub={entries.length ? plural(entries.length, "entry", "entries") : undefined}>
        {mine.length > 0 && (
          <Button disabled={sending} onClick={() => void send()}>
            {sending ? "Sending…" : "Send now"}
          </Button>
        )}
      </PageHead>
      {entries.length === 0 ? (
        <EmptyState purpose="Nothing waits. What is entered without a connection stays in this device, over a closed tab and a restart, and is sent in order when the server answers again; what the server refuses is shown here beside what stands now." />
      ) : (
        <div className="d-grid gap-3">
          {entries.map((entry) => (
            <Waiting key={entry.id} entry={entry} />
          ))}
        </div>
      )}
    </>
  );
}

function Waiting({ entry }: { entry: Entry }) {
  const { initials, session } = useTechnician();
  const queries = useQueryClient();
  const say = useSay();
  const [busy, setBusy] = useState(false);
  const [asked, setAsked] = useState(false);
  const [reason, setReason] = useState("");
  const { refused } = entry;
  const said = saidIn(entry);
  const wantsReason = refused?.over && said && "reason" in said && !said.reason;
  const isMine = entry.by === initials;
  const isLead = session?.signed_in?.role === "lead";
  async function send(fields: Record<string, unknown> = {}) {
    setBusy(true);
    const outcome = await sendEntry(entry, fields);
    setBusy(false);
    if (outcome === "sent") say(`${entry.words}: sent.`);
    if (outcome === "unreached") say("The server does not answer. It still waits here.");
    await refresh(queries);
  }
  async function drop() {
    await discard(entry);
    say(`${entry.words}: discarded.`);
  }
  return (
    <section className="panel" aria-label={entry.words}>
      <h2 className="mb-1">{entry.words}</h2>
      <p className="text-secondary mb-2">
        entered {moment(entry.at)} by {entry.by} · <Link to={entry.page}>its page</Link>
      </p>
      {!isMine && (
        <p className="caution mb-2">
          {entry.by} entered this. It is sent when {entry.by} signs in here again
          {isLead ? "; where that will not be, accept it under your own initials, or discard it." : "."}
          {!isLead && " Where that will not be, a lead signs in at this device and accepts or discards it."}
        </p>
      )}
      {refused && <p className="trouble mb-2">{refused.message}</p>}
      {refused?.over && <BothVersions differences={refused.differences} />}
      {wantsReason && (
        <TextField label="Why the earlier one is corrected" value={reason} onChange={setReason} className="mt-2" />
      )}
      {(isMine || isLead) && (
        <div className="d-flex flex-wrap gap-2 mt-3">
          {refused?.over ? (
            <Button
              disabled={busy || Boolean(wantsReason && !reason.trim())}
              onClick={() => void send({ ...refused.over, ...(wantsReason && { reason: reason.trim() }) })}
            >
              {isMine ? "Save mine over it" : `Save it over that, as ${initials}`}
            </Button>
          ) : refused || !isMine ? (
            <Button disabled={busy} onClick={() => void send()}>
              {isMine ? "Try again" : `Accept as ${initials}`}
            </Button>
          ) : null}
          <Button variant="quiet" disabled={busy} onClick={() => setAsked(true)}>
            {refused?.over ? "What stands now is right…" : "Discard…"}
          </Button>
        </div>
      )}
      {said && (
        <details className="mt-2">
          <summary>What was entered</summary>
          <pre className="small mb-0">{JSON.stringify(said, null, 1)}</pre>
        </details>
      )}
      {asked && (
        <FormDialog
          title="Discard this entry?"
          action="Discard"
          saving={false}
          error={null}
          onSave={() => void drop()}
          onClose={() => setAsked(false)}
        >
          <p className="mb-0">
            {entry.words}, entered {moment(entry.at)} by {entry.by}. It is in no record, and cannot be had back.
          </p>
        </FormDialog>
      )}
    </section>
  );
}
