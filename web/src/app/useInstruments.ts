/** Readings of the instruments this browser takes: each press of a button goes into the field that has the focus. Off until chosen. */
import { useEffect, useRef, useSyncExternalStore } from "react";
import { body, GET } from "../shared/api/client";
import { putReading } from "../shared/fields/readingInto";
import { useSay } from "./toasts";

const KEY = "setback.instruments";
const ASK_MS = 500;
const listeners = new Set<() => void>();

const chosen = (): string => localStorage.getItem(KEY) ?? "";

/** Which instruments' buttons fill fields in this browser, by id, and how to change that. */
export function useTaken(): [string[], (ids: string[]) => void] {
  const text = useSyncExternalStore((tell) => {
    listeners.add(tell);
    return () => void listeners.delete(tell);
  }, chosen);
  const put = (ids: string[]) => {
    if (ids.length) localStorage.setItem(KEY, ids.join(" "));
    else localStorage.removeItem(KEY);
    for (const tell of listeners) tell();
  };
  return [text.split(" ").filter(Boolean), put];
}

export function useInstruments(): void {
  const [taken] = useTaken();
  const say = useSay();
  const seen = useRef(new Map<string, number>());
  const wanted = taken.join(" ");
  useEffect(() => {
    if (!wanted) return;
    let isOver = false;
    let asking = false;
    async function ask() {
      if (document.hidden || asking) return;
      asking = true;
      const answer = await body(GET("/api/instruments")).catch(() => null);
      asking = false;
      if (!answer || isOver) return;
      for (const one of answer.items.filter((row) => row.fills_fields && wanted.split(" ").includes(row.id))) {
        const before = seen.current.get(one.id);
        seen.current.set(one.id, one.presses);
        // The first look only counts; a server that began anew counts from nothing.
        if (before === undefined || one.presses <= before || one.value === null || one.fault) continue;
        const text = `${one.name}: ${one.value.toFixed(one.decimals)} ${one.unit}`;
        if (!putReading(one.value, one.unit)) say(`${text}. No field of ${one.unit} has the focus.`);
      }
    }
    void ask();
    const timer = setInterval(() => void ask(), ASK_MS);
    return () => {
      isOver = true;
      clearInterval(timer);
    };
  }, [wanted, say]);
}
