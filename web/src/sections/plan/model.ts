import type { Schemas } from "../../shared/api/client";

export type Plan = Schemas["WorkPlan"];
export type Step = Schemas["TaskPlanned"];
export type Lane = { key: string; name: string; detail: string; steps: Step[] };

/** What a step is called where it is done, and whether it is ticked as begun or as done at once. */
export const KINDS: Record<Step["kind"], { name: string; begins: boolean }> = {
  warm: { name: "Warm start", begins: true },
  print: { name: "Print", begins: true },
  wash: { name: "Wash", begins: true },
  dry: { name: "Dry", begins: true },
  cure: { name: "Cure", begins: true },
  read: { name: "Read", begins: false },
  vat: { name: "Stir", begins: false },
  blend: { name: "Blend", begins: false },
  own: { name: "Own task", begins: false },
};

export const at = (iso: string): number => Date.parse(iso);
const MINUTE = 60_000;

/** Printers, baths and places as the server names them; what needs none of them is done at the bench. */
export function lanesOf(plan: Plan): Lane[] {
  const lanes = plan.lanes.map((lane) => ({
    key: lane.key,
    name: lane.name,
    detail: lane.detail,
    steps: plan.steps.filter((step) => step.resource === lane.key),
  }));
  const bench = plan.steps.filter((step) => step.resource === null);
  return bench.length ? [...lanes, { key: "bench", name: "Bench", detail: "by hand", steps: bench }] : lanes;
}

/** Steps that run at once stand under each other: which line of its lane each takes, and how many lines there are. */
export function stacked(steps: Step[]): { line: Map<string, number>; lines: number } {
  const ends: number[] = [];
  const line = new Map<string, number>();
  for (const step of [...steps].sort((a, b) => at(a.starts_at) - at(b.starts_at))) {
    const free = ends.findIndex((end) => end <= at(step.starts_at));
    const row = free < 0 ? ends.length : free;
    ends[row] = at(step.ends_at);
    line.set(step.key, row);
  }
  return { line, lines: Math.max(ends.length, 1) };
}

export type Spell = { from: number; to: number; name: string };

/** When the technician is at work on something: from the beginning of each step, and while a vat is changed. */
export function atWork(plan: Plan): Spell[] {
  return plan.steps.flatMap((step) => [
    ...(step.person_min && step.state !== "running"
      ? [{ from: at(step.starts_at), to: at(step.starts_at) + step.person_min * MINUTE, name: step.name }]
      : []),
    ...(step.change_at && step.changed_at && step.state !== "running"
      ? [{ from: at(step.change_at), to: at(step.changed_at), name: `vat for ${step.name}` }]
      : []),
  ]);
}

/** The stretch of time that is drawn: the day a moment lies in, or seven from it. */
export function stretchOf(plan: Plan, day: Date, days: number): [number, number] {
  const begins = new Date(day.getFullYear(), day.getMonth(), day.getDate()).getTime();
  const ends = new Date(day.getFullYear(), day.getMonth(), day.getDate() + days).getTime();
  const inside = [
    ...plan.steps.flatMap((step) => [at(step.starts_at), at(step.ends_at)]),
    ...plan.shifts.flat().map(at),
    at(plan.now),
  ].filter((moment) => moment >= begins && moment <= ends);
  if (days > 1 || !inside.length) return [begins, ends];
  const hour = 60 * MINUTE;
  return [
    Math.max(begins, Math.floor(Math.min(...inside) / hour) * hour),
    Math.min(ends, Math.ceil(Math.max(...inside) / hour) * hour),
  ];
}

/** What a bar says: its lane tells already what is done there. */
export const shortName = (step: Step): string => step.name.replace(/^(warm|print|wash|dry|cure|read) /, "");

/** To five minutes, as a hand moves things. */
export const toFive = (moment: number): number => Math.round(moment / (5 * MINUTE)) * 5 * MINUTE;
export const minutes = (count: number): number => count * MINUTE;

export const isToday = (plan: Plan, step: Step): boolean =>
  new Date(plan.now).toDateString() === new Date(step.starts_at).toDateString();
export const weekday = (iso: string): string => new Date(iso).toLocaleDateString("en-GB", { weekday: "long" });
