import { useState, type ReactNode } from "react";
import Button from "react-bootstrap/Button";
import { PageHead } from "../../app/PageHead";
import { usePageKeys } from "../../app/shortcuts";
import { Link, useSearchParams } from "react-router";
import type { Schemas } from "../api/client";
import { EventDialog } from "../events/EventDialog";
import { TimeLine } from "../events/TimeLine";
import { Calibrations, Prints } from "./Histories";
import { SetLines } from "./SetLines";
import "./known.scss";

type Props = {
  title: string;
  sub: string;
  /** Links beside the one main action, which is to record an event. */
  links: ReactNode;
  /** What an event is recorded on; without it, `why` says what is missing. */
  on: Parameters<typeof EventDialog>[0] extends infer P ? Omit<P, "onClose" | "kind"> : never;
  why?: string;
  sets: Schemas["SetLine"][];
  axis: [number, number] | null;
  by: "material" | "printer";
  purpose: string;
  events: Schemas["EventView"][];
  calibrations: Schemas["CampaignLine"][];
  prints: Schemas["PrintLine"][];
  children: ReactNode;
  below?: ReactNode;
};

/** Everything known of one thing: its sets on one axis, what was measured, what happened, its calibrations and prints. */
export function KnownPage({
  title,
  sub,
  links,
  on,
  why,
  sets,
  axis,
  by,
  purpose,
  events,
  calibrations,
  prints,
  children,
  below,
}: Props) {
  // A page that leads here may name what happened.
  const [search, setSearch] = useSearchParams();
  const kind = search.get("event") ?? undefined;
  const of = on.material ? `material=${on.material.id}` : `printer=${on.printer?.id}`;
  const [recording, setRecording] = useState(kind !== undefined);
  usePageKeys([{ keys: "n", does: "record an event", run: why ? undefined : () => setRecording(true) }]);
  return (
    <>
      <PageHead title={title} sub={sub}>
        {links}
        <Button onClick={() => setRecording(true)} disabled={Boolean(why)} title={why}>
          Record an event
        </Button>
      </PageHead>
      <section className="panel" aria-label="Sets">
        <h2>Sets</h2>
        {sets.length ? (
          <SetLines sets={sets} axis={axis} by={by} />
        ) : (
          <p className="mb-0 text-secondary">No set is issued yet. A calibration ends in one.</p>
        )}
      </section>
      <div className="known">
        {children}
        <section className="panel" aria-label="What happened">
          <h2>What happened</h2>
          <TimeLine events={events} purpose={purpose} />
        </section>
        <section className="panel" aria-label="Calibrations">
          <h2>Last calibrations</h2>
          <Calibrations rows={calibrations} />
          {calibrations.length > 0 && <Link to={`/lab/activity?kind=calibration&${of}`}>All calibrations</Link>}
        </section>
        <section className="panel" aria-label="Prints">
          <h2>Last prints</h2>
          <Prints rows={prints} />
          {prints.length > 0 && <Link to={`/log?${of}`}>All prints</Link>}
        </section>
      </div>
      {below}
      {recording && (
        <EventDialog
          {...on}
          kind={kind}
          onClose={() => {
            setRecording(false);
            if (kind) setSearch({}, { replace: true });
          }}
        />
      )}
    </>
  );
}
