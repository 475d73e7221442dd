import { fireEvent, render, screen, within } from "@testing-library/react";
import { beforeEach, expect, test, vi } from "vitest";
import type { Schemas } from "../api/client";
import { ExposureStrip } from "./ExposureStrip";
import type { StripMark } from "./marks";

type Result = Schemas["WindowResult"];
type Lane = Schemas["LaneEnds"];

beforeEach(() => {
  vi.stubGlobal(
    "ResizeObserver",
    class {
      constructor(private readonly tell: (entries: { contentRect: { width: number } }[]) => void) {}
      observe = () => this.tell([{ contentRect: { width: 900 } }]);
      disconnect = () => undefined;
    },
  );
});

const lane = (changes: Partial<Lane>): Lane => ({
  name: "",
  needs: "",
  place: 0,
  lower_s: null,
  upper_s: null,
  lower_ci_s: null,
  upper_ci_s: null,
  bracket_s: null,
  lower_used_s: null,
  upper_used_s: null,
  found: { lower: true, upper: true },
  binding: null,
  beyond: null,
  ...changes,
});
// As JSON gives them: by key, not in the order they are drawn.
const LANES = {
  slots: lane({
    name: "Thin slots",
    needs: "0.35 mm, 90 % open",
    place: 3,
    upper_s: 4.15,
    upper_used_s: 4.15,
    upper_ci_s: [3.9, 4.4],
  }),
  walls: lane({ name: "Thin walls", needs: "0.21 mm, 90 % stand", place: 2, lower_s: 2.2, lower_used_s: 2.2 }),
  z: lane({ name: "Z bloom", needs: "at most 150 µm", place: 1, upper_s: 2.45, upper_used_s: 2.5, beyond: "shorter" }),
};
const MARKS: StripMark[] = [
  { code: "101J", kind: "flat", exposure_s: 2, mark: "under" },
  { code: "103N", kind: "z-bridge", exposure_s: 2.6, mark: "ok" },
];
const result = (changes: object = {}) =>
  ({
    lanes: LANES,
    window: null,
    conflict: null,
    provisional: false,
    size_true_s: null,
    balance_s: null,
    ladder_s: [2, 4.4],
    warnings: [],
    p_holds: [],
    missing_lanes: [],
    predictions: [],
    cut_offs: { offer: 0.9 },
    reference_temp_c: null,
    ...changes,
  }) as unknown as Result;
const WINDOW = { lower_s: 2.2, upper_s: 4.15, lower_from: "walls", upper_from: "slots", latitude_pct: 64.5 };

function show(made: Result | null, more: Partial<Parameters<typeof ExposureStrip>[0]> = {}) {
  const drawn = render(<ExposureStrip result={made} marks={MARKS} range={[2, 4.4]} step={0.1} {...more} />);
  return drawn.container;
}

test("lanes stand in the order of the core, with its names and words", () => {
  const drawn = show(result({ window: WINDOW }));
  expect([...drawn.querySelectorAll("[data-lane]")].map((one) => one.getAttribute("data-lane"))).toEqual([
    "z",
    "walls",
    "slots",
  ]);
  expect(drawn.querySelector("[data-lane=walls]")!.textContent).toContain("0.21 mm, 90 % stand");
});

test("an end is drawn where the number says", () => {
  const drawn = show(result({ window: WINDOW }));
  const strip = screen.getByRole("group", { name: "Exposure strip" });
  const [low, high] = JSON.parse(strip.getAttribute("data-domain")!) as [number, number];
  const [left, right] = JSON.parse(strip.getAttribute("data-range")!) as [number, number];
  const place = (at: number) =>
    left + ((Math.log(at) - Math.log(low)) / (Math.log(high) - Math.log(low))) * (right - left);
  const end = drawn.querySelector("[data-lane=walls] [data-end=lower] [data-part=end]")!;
  expect(Number(end.getAttribute("x1"))).toBeCloseTo(place(2.2), 1);
});

test("words of an end beyond the ladder stand behind its number, not over it", () => {
  const drawn = show(result({ window: WINDOW }));
  const words = drawn.querySelector("[data-lane=z] [data-part=beyond]")!;
  const number = drawn.querySelector("[data-lane=z] .end-label")!;
  expect(words.textContent).toContain("use shorter exposures");
  expect(Number(words.getAttribute("x"))).toBeGreaterThan(Number(number.getAttribute("x")) + 30);
});

test("the same numbers are there for people who hear the page", () => {
  show(result({ window: WINDOW }));
  const row = within(screen.getByRole("table", { name: "Lanes" })).getByRole("row", { name: /Thin slots/ });
  expect(row.textContent).toContain("4.15 s, between 3.90 and 4.40 s");
  expect(row.textContent).toContain("open");
});

test("where lanes do not overlap there is a gap and no window", () => {
  const conflict = { lower_from: "walls", upper_from: "z", lower_s: 2.6, upper_s: 2.4, gap_pct: 8, proven: true };
  const drawn = show(result({ conflict, decision: "none", p_holds: [{ exposure_s: 3, p: 0.01 }] }));
  expect(drawn.querySelector("[data-conflict]")).toBeTruthy();
  expect(drawn.querySelector(".window")).toBeNull();
  expect(drawn.textContent).toContain("lanes are 8");
});

test("the number of an end stands beside a border of the gap, not on it", () => {
  const conflict = { lower_from: "walls", upper_from: "slots", lower_s: 4.55, upper_s: 4.15, gap_pct: 9, proven: true };
  const drawn = show(result({ conflict, decision: "none" }));
  const border = Math.max(
    ...[...drawn.querySelectorAll(".conflict-edge")].map((line) => Number(line.getAttribute("x1"))),
  );
  const number = drawn.querySelector("[data-lane=slots] .end-label")!;
  expect(number.textContent).toBe("4.15");
  expect(Number(number.getAttribute("x"))).toBeGreaterThan(border + 4);
});

test("kinds are named as everywhere, and a mark opens its coupon by click and by Enter", () => {
  const opened = vi.fn();
  const drawn = show(result({ window: WINDOW }), { onMark: opened });
  expect(drawn.textContent).toContain("Z bridge");
  const mark = screen.getByRole("button", { name: "Coupon 101J, 2 s, under" });
  fireEvent.click(mark);
  fireEvent.keyDown(mark, { key: "Enter" });
  expect(opened.mock.calls).toEqual([["101J"], ["101J"]]);
});

test("the chosen exposure moves by a step of the printer and stays on the ladder", () => {
  const choose = vi.fn();
  show(result({ window: WINDOW }), { chosen: 4.4, onChoose: choose });
  const line = screen.getByRole("slider", { name: "Chosen exposure" });
  expect(line.getAttribute("aria-valuenow")).toBe("4.4");
  fireEvent.keyDown(line, { key: "ArrowLeft" });
  expect(choose.mock.calls.at(-1)![0]).toBeCloseTo(4.3);
  choose.mockClear();
  fireEvent.keyDown(line, { key: "ArrowRight" });
  for (const [at] of choose.mock.calls) expect(at).toBeLessThanOrEqual(4.4);
});

test("before there are lanes it says what makes them", () => {
  expect(show(null).textContent).toContain("Lanes appear when two coupons are read.");
});

const HOLDS = [2, 2.4, 2.8, 3.2, 3.6, 4, 4.4].map((exposure_s, index) => ({
  exposure_s,
  p: [0.02, 0.6, 0.95, 0.98, 0.94, 0.4, 0.01][index]!,
}));

test("a ridge shows the chance at every step, and the line says it at the chosen exposure", () => {
  const drawn = show(
    result({
      window: WINDOW,
      decision: "offer",
      p_holds: HOLDS,
      predictions: [{ exposure_s: 3.2, p: 0.98 }],
      reference_temp_c: 23.4,
    }),
    { chosen: 3.2, onChoose: vi.fn() },
  );
  const ridge = drawn.querySelector("[data-part=ridge]")!;
  expect(ridge.getAttribute("data-best")).toBe("0.98");
  expect(ridge.textContent.replace(/\s/g, " ")).toContain("90 % offer");
  const said = drawn.querySelector("[data-decision=offer]")!.textContent.replace(/\s/g, " ");
  expect(said).toContain("all requirements hold with 98 % · at 90 % or better from 2.8 to 3.6 s");
  expect(said).toContain("at 23.4 °C · window 2.20–4.15 s · latitude 65 %");
});

test("while a limit is unread the ridge is of what was read, and says so", () => {
  const drawn = show(result({ decision: "more", p_holds: HOLDS, missing_lanes: ["tips"] }));
  expect(drawn.querySelector(".ridge.partial")!.textContent).toContain("of what was read");
  expect(drawn.textContent.replace(/\s/g, " ")).toContain("what was read holds with 98 % at best, at 3.2 s");
});

test("an end that is not found is dashed, and its bracket stands under it", () => {
  const walls = lane({
    name: "Thin walls",
    lower_s: 2.2,
    lower_used_s: 2.2,
    bracket_s: [2, 2.6],
    found: { lower: false, upper: false },
    binding: 0.88,
  });
  const drawn = show(result({ lanes: { walls } }));
  expect(drawn.querySelector("[data-lane=walls] .end")!.classList.contains("clipped")).toBe(true);
  expect(drawn.querySelector("[data-part=bracket]")).toBeTruthy();
  expect(drawn.querySelector("[data-lane=walls]")!.textContent.replace(/\s/g, " ")).toContain("binds 88 %");
});

const at = (exposure_s: number, whole: number, under: number) => ({
  exposure_s,
  prints: 3,
  parts: whole + under,
  whole,
  under,
  over: 0,
  other: 0,
});

test("what prints tell is a hollow lane under the coupons', with counts and limits in words", () => {
  const prints = {
    seen: [at(2.4, 20, 10), at(3.0, 29, 1), at(3.6, 30, 0)],
    share: 0.88,
    curve: {
      exposure_s: [2.4, 3.6],
      whole: [0.66, 0.99],
      low: [0.5, 0.9],
      high: [0.8, 1],
      not_under: null,
      not_over: null,
    },
    exposure_for: { exposure_s: 2.9, ci_s: [2.6, null] },
    upper: null,
    span_s: [2.9, 3.6],
    advice: null,
    effects: [],
    confounded: [],
    warnings: [],
  } as unknown as Schemas["PrintSuccessResult"];
  const { container } = render(
    <ExposureStrip result={result()} marks={MARKS} range={[2, 4.4]} step={0.1} prints={prints} />,
  );
  const row = screen.getByRole("img", { name: /^From prints/ });
  expect(row.getAttribute("aria-label")!.replace(/\s/g, " ")).toContain("20 of 30 whole at 2.40 s");
  expect(row.getAttribute("aria-label")).toContain("no upper end");
  const hollow = container.querySelector(".prints-row .hollow")!;
  const circles = [...container.querySelectorAll(".prints-row g")];
  const last = Number(/translate\(([\d.]+)/.exec(circles[2]!.getAttribute("transform")!)![1]);
  // It ends where nothing more was printed, however well that came out.
  expect(Number(hollow.getAttribute("x")) + Number(hollow.getAttribute("width"))).toBeCloseTo(last, 1);
});

test("a strip without prints has no such lane", () => {
  render(<ExposureStrip result={result()} marks={MARKS} range={[2, 4.4]} step={0.1} prints={null} />);
  expect(screen.queryByRole("img", { name: /^From prints/ })).toBeNull();
});
