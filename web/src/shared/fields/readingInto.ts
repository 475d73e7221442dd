/** A caliper's or a scale's reading goes into the field that has the focus, where that field is of its unit, and nowhere else. */
import { useEffect, useRef, type RefObject } from "react";
import type { Unit } from "./units";

type Taker = { unit: Unit; put: (value: number) => void };
const takers = new Map<HTMLElement, Taker>();

/** Lets a number field take readings while it has the focus. */
export function useReadingInto(
  field: RefObject<HTMLInputElement | null>,
  unit: Unit,
  put: (value: number) => void,
): void {
  const latest = useRef(put);
  latest.current = put;
  useEffect(() => {
    const here = field.current;
    if (!here) return;
    takers.set(here, { unit, put: (value) => latest.current(value) });
    return () => void takers.delete(here);
  }, [field, unit]);
}

/** Whether a reading found its field. */
export function putReading(value: number, unit: string): boolean {
  const here = document.activeElement as HTMLInputElement | null;
  const taker = here && takers.get(here);
  if (!taker || taker.unit !== unit || here.disabled) return false;
  taker.put(value);
  return true;
}
