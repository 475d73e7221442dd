import { scaleLog, type ScaleLogarithmic } from "d3-scale";

export type Axis = ScaleLogarithmic<number, number>;

/** One horizontal logarithmic time axis: left too little light, right too much. */
export function exposureAxis(low: number, high: number, left: number, right: number): Axis {
  return scaleLog().domain([low, high]).range([left, right]);
}

/** Round times to label, no closer than `gap` pixels. */
export function ticks(axis: Axis, gap: number): number[] {
  const [low, high] = axis.domain() as [number, number];
  const steps = [1, 1.2, 1.5, 2, 2.5, 3, 4, 5, 6, 8];
  const all: number[] = [];
  for (let power = Math.floor(Math.log10(low)); power <= Math.ceil(Math.log10(high)); power++)
    for (const step of steps) {
      const value = Number((step * 10 ** power).toPrecision(3));
      if (value >= low && value <= high) all.push(value);
    }
  // Prefer the roundest: place 1, 2, 5 first, then fill the gaps that are left.
  const rank = (value: number) => {
    const lead = Number((value / 10 ** Math.floor(Math.log10(value) + 1e-9)).toPrecision(3));
    return lead === 1 ? 0 : lead === 2 || lead === 5 ? 1 : lead === 3 || lead === 4 ? 2 : 3;
  };
  const kept: number[] = [];
  for (const value of [...all].sort((a, b) => rank(a) - rank(b) || a - b))
    if (kept.every((other) => Math.abs(axis(other) - axis(value)) >= gap)) kept.push(value);
  return kept.sort((a, b) => a - b);
}
