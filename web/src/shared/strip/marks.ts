import type { Axis } from "./axis";

export type StripMark = { code: string; kind: string; exposure_s: number; mark: string };

type Placed = StripMark & { row: number; labelled: boolean };

const MOST_ROWS = 4;

/** Kinds stand in rows of their own; marks that would touch move down a row, and past four rows lose their label. */
export function stagger(marks: StripMark[], kinds: string[], axis: Axis): Placed[] {
  const placed: Placed[] = [];
  let first = 0;
  for (const kind of kinds) {
    const ends: number[] = [];
    for (const mark of marks.filter((one) => one.kind === kind).sort((a, b) => a.exposure_s - b.exposure_s)) {
      const x = axis(mark.exposure_s);
      const free = ends.findIndex((end) => x - 9 >= end);
      const row = free >= 0 ? free : ends.length < MOST_ROWS ? ends.length : ends.indexOf(Math.min(...ends));
      const labelled = free >= 0 || row === ends.length;
      ends[row] = x + (labelled ? 54 : 10);
      placed.push({ ...mark, row: first + row, labelled });
    }
    first += ends.length;
  }
  return placed;
}
