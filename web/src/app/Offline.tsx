import { onlineManager, useMutationState } from "@tanstack/react-query";
import { useSyncExternalStore } from "react";
import { plural } from "../shared/format";

/** With the network gone: how many entries wait, and that they are saved when it is back. */
export function Offline() {
  const online = useSyncExternalStore(
    (changed) => onlineManager.subscribe(changed),
    () => onlineManager.isOnline(),
  );
  const waiting = useMutationState({ filters: { status: "pending" }, select: (one) => one.state.isPaused }).filter(
    Boolean,
  ).length;
  if (online) return null;
  return (
    <p className="caution no-print" role="status" data-waiting={waiting}>
      <b>No connection.</b>{" "}
      {waiting
        ? `${plural(waiting, "entry waits", "entries wait")}: saved as soon as the connection is back. Keep this tab open.`
        : "What you save now waits in this tab and is saved as soon as the connection is back."}
    </p>
  );
}
