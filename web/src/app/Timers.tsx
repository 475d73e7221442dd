import { useQuery } from "@tanstack/react-query";
import { useEffect, useRef, useState } from "react";
import Button from "react-bootstrap/Button";
import Dropdown from "react-bootstrap/Dropdown";
import { Link } from "react-router";
import { body, GET, POST, type Schemas } from "../shared/api/client";
import { useSend } from "../shared/api/useSend";
import { NumberField } from "../shared/fields/NumberField";
import { TextField } from "../shared/fields/TextField";
import { FormDialog } from "../shared/fields/FormDialog";
import { chime } from "./chime";
import { notify } from "./serviceWorker";
import { useSay } from "./toasts";

type Timer = Schemas["TimerView"];

/** Running timers in the top bar: the next one due, the rest behind it; they outlive page and server. */
export function Timers() {
  const [adding, setAdding] = useState(false);
  const query = useQuery({
    queryKey: ["timers"],
    queryFn: async () => ({ ...(await body(GET("/api/timers"))), at: Date.now() }),
    refetchInterval: 20_000,
  });
  const now = useSecond(Boolean(query.data?.items.length));
  const items = query.data?.items ?? [];
  const passed = query.data ? (now - query.data.at) / 1000 : 0;
  const left = (timer: Timer) => timer.left_s - Math.max(passed, 0);
  const due = items.filter((timer) => left(timer) <= 0);
  useDueSound(due);
  const next = items[0];
  return (
    <>
      <Dropdown align="end" autoClose="outside">
        <Dropdown.Toggle
          className={`timer-toggle num ${due.length ? "due" : ""}`}
          aria-label={
            next
              ? `Timers: ${next.name} ${due.length ? "is due" : `in ${clock(left(next))}`}${items.length > 1 ? `, ${items.length} run` : ""}`
              : "Timers: none runs"
          }
        >
          {next ? (
            <>
              {clock(left(next))}
              {items.length > 1 && <small className="ms-2">+{items.length - 1}</small>}
            </>
          ) : (
            <Hourglass />
          )}
        </Dropdown.Toggle>
        <Dropdown.Menu className="timers">
          {items.map((timer) => (
            <Row key={timer.id} timer={timer} left={left(timer)} />
          ))}
          {!items.length && <p className="m-2 text-secondary">No timer runs. Start one at a step, or here.</p>}
          <Dropdown.Item as="button" onClick={() => setAdding(true)}>
            New timer…
          </Dropdown.Item>
          <NotifyMe />
        </Dropdown.Menu>
      </Dropdown>
      {adding && <NewTimer onClose={() => setAdding(false)} />}
    </>
  );
}

function Row({ timer, left }: { timer: Timer; left: number }) {
  const say = useSay();
  const path = { params: { path: { timer_id: timer.id } } };
  const back = useSend((_: null) => body(POST("/api/timers/{timer_id}/resume", path)));
  const end = useSend(
    (_: null) => body(POST("/api/timers/{timer_id}/end", path)),
    () => say(`${timer.name} is off.`, () => back.mutate(null)),
  );
  return (
    <div className={`timer ${left <= 0 ? "due" : ""}`} role="group" aria-label={timer.name}>
      <span className="num">{clock(left)}</span>
      {timer.place ? <Link to={timer.place}>{timer.name}</Link> : <span>{timer.name}</span>}
      <Button
        size="sm"
        variant="quiet"
        disabled={end.isPending}
        onClick={() => end.mutate(null)}
        aria-label={`Take ${timer.name} off`}
      >
        {left <= 0 ? "Done" : "Stop"}
      </Button>
    </div>
  );
}

/** Timers that are due show as notifications of the system, once the person allows it in this browser. */
function NotifyMe() {
  const [permission, setPermission] = useState("Notification" in window ? Notification.permission : "denied");
  if (permission !== "default") return null;
  return (
    <Dropdown.Item as="button" onClick={() => void Notification.requestPermission().then(setPermission)}>
      Notify me when one is due
    </Dropdown.Item>
  );
}

function NewTimer({ onClose }: { onClose: () => void }) {
  const [name, setName] = useState("");
  const [minutes, setMinutes] = useState<number | null>(5);
  const start = useSend(
    (_: null, headers) =>
      body(POST("/api/timers", { body: { name, seconds: 60 * (minutes ?? 0), place: null }, headers })),
    onClose,
  );
  return (
    <FormDialog
      title="New timer"
      action="Start"
      saving={start.isPending}
      error={start.error}
      onSave={() => start.mutate(null)}
      onClose={onClose}
    >
      <TextField
        label="What for"
        value={name}
        onChange={setName}
        error={start.error?.fields.name && "Give it a name of up to 80 characters."}
        autoFocus
      />
      <NumberField
        label="How long"
        unit="min"
        value={minutes}
        onChange={setMinutes}
        error={start.error?.fields.seconds && "Give a second to a week."}
      />
    </FormDialog>
  );
}

/** A clock that ticks while something runs. */
function useSecond(running: boolean): number {
  const [now, setNow] = useState(Date.now());
  useEffect(() => {
    setNow(Date.now());
    if (!running) return;
    const tick = setInterval(() => setNow(Date.now()), 1000);
    return () => clearInterval(tick);
  }, [running]);
  return now;
}

/** Sound once per timer, and the page title until it is taken off. */
function useDueSound(due: Timer[]) {
  const heard = useRef(new Set<string>());
  const title = useRef<string | null>(null);
  const first = due[0]?.name;
  useEffect(() => {
    const fresh = due.filter((timer) => !heard.current.has(timer.id));
    if (fresh.length) chime();
    for (const timer of fresh) void notify(`Due: ${timer.name}`, timer.id);
    fresh.forEach((timer) => heard.current.add(timer.id));
  }, [due]);
  useEffect(() => {
    if (!first) return;
    title.current = document.title;
    const keep = setInterval(() => {
      if (!document.title.startsWith("Due:")) title.current = document.title;
      document.title = `Due: ${first}`;
    }, 1000);
    document.title = `Due: ${first}`;
    return () => {
      clearInterval(keep);
      if (title.current && document.title.startsWith("Due:")) document.title = title.current;
    };
  }, [first]);
}

export function clock(seconds: number): string {
  if (seconds <= 0) return "due";
  const whole = Math.ceil(seconds);
  const [hours, minutes, rest] = [Math.floor(whole / 3600), Math.floor((whole % 3600) / 60), whole % 60];
  return hours ? `${hours}:${String(minutes).padStart(2, "0")} h` : `${minutes}:${String(rest).padStart(2, "0")}`;
}

function Hourglass() {
  return (
    <svg
      width="14"
      height="16"
      viewBox="0 0 14 16"
      fill="none"
      stroke="currentColor"
      strokeWidth="1.8"
      aria-hidden="true"
    >
      <path d="M1 1h12M1 15h12M2.5 1c0 5 9 9 9 14M11.5 1c0 5-9 9-9 14" />
    </svg>
  );
}
