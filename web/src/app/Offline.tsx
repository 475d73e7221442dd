import { onlineManager, useMutationState, useQueryClient } from "@tanstack/react-query";
import { useEffect, useSyncExternalStore } from "react";
import { Link } from "react-router";
import { refresh } from "../shared/api/refresh";
import { moment, plural } from "../shared/format";
import { useReached } from "../shared/outbox/connection";
import { nothingOldShown, shownFrom, tidyCopies } from "../shared/outbox/copies";
import { sendAll, useOutbox } from "../shared/outbox/outbox";
import { keepApp } from "./serviceWorker";
import { useTechnician } from "./people/technician";
import { useSay } from "./toasts";

const TRY_MS = 10_000;

/** With the network gone: how many entries wait, and that they are saved when it is back. */
export function Offline() {
  const { session } = useTechnician();
  const asks = session?.asks;
  useEffect(() => {
    if (asks !== undefined) void keepApp(asks);
  }, [asks]);
  return asks ? <WaitsHere /> : <WaitsInTab />;
}

/** Where one person works at their own machine, entries wait in the tab. */
function WaitsInTab() {
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

/** In a workshop they wait in this device, and are sent in order as soon as the server answers. */
function WaitsHere() {
  const { initials } = useTechnician();
  const queries = useQueryClient();
  const say = useSay();
  const reached = useReached();
  const { entries, sending } = useOutbox();
  const mine = entries.filter((one) => one.by === initials && !one.refused).length;
  const toDecide = entries.length - mine;
  useEffect(() => void tidyCopies(), []);
  useEffect(() => {
    if (!reached) return;
    nothingOldShown();
    void refresh(queries);
  }, [reached, queries]);
  useEffect(() => {
    if (!mine) return;
    async function send() {
      const { sent, refused } = await sendAll();
      if (sent) say(`${plural(sent, "entry was", "entries were")} sent.`);
      if (sent || refused) await refresh(queries);
    }
    if (reached) void send();
    const timer = setInterval(() => void send(), TRY_MS);
    return () => clearInterval(timer);
  }, [mine, reached, queries, say]);
  if (reached && !mine && !toDecide) return null;
  const from = reached ? null : shownFrom();
  return (
    <p className="caution no-print" role="status" data-waiting={mine}>
      {!reached && <b>No connection. </b>}
      {from && `What is shown is of ${moment(from)}. `}
      {mine > 0 &&
        `${plural(mine, "entry waits", "entries wait")} in this device${sending ? " and are being sent" : ", sent as soon as the server answers"}. `}
      {!reached && !mine && "Entries made now wait in this device until the server answers. "}
      {toDecide > 0 && `${plural(toDecide, "entry wants", "entries want")} a decision. `}
      {entries.length > 0 && <Link to="/waiting">Show what waits</Link>}
    </p>
  );
}
