import { render, screen, within } from "@testing-library/react";
import { beforeEach, expect, test } from "vitest";
import { wide } from "../../testingTools";
import { CurvePlot } from "./CurvePlot";
import { RequirementPlot } from "./RequirementPlot";
import { DotPlot } from "./DotPlot";
import { ResponsePlot } from "./ResponsePlot";
import { TracePlot } from "./TracePlot";
import { TrendPlot } from "./TrendPlot";

beforeEach(() => wide(800));

const rows = (name: string) =>
  within(screen.getByRole("table", { name }))
    .getAllByRole("row")
    .map((row) => row.textContent);
const at = (drawn: Element, name: string) => Number(drawn.getAttribute(name));

test("a trend has a mark for every mean, at its value, and says each of them in a table", () => {
  const { container } = render(
    <TrendPlot
      name="Price"
      unit="/l"
      against="share"
      againstUnit="%"
      points={[
        { x: 0, values: [], centre: 79, interval: null },
        { x: 12, values: [77, 78.4], centre: 77.7, interval: [77.1, 78.3] },
      ]}
    />,
  );
  expect(container.querySelectorAll(".centre")).toHaveLength(2);
  expect(container.querySelectorAll("circle.small")).toHaveLength(2);
  const line = container.querySelector(".interval")!;
  expect(at(line, "y1")).toBeGreaterThan(at(line, "y2"));
  expect(rows("Price against share")).toEqual(["share, %Price, /leach", "079", "1277.777, 78.4"]);
});

test("a curve that was given is drawn instead of a path from mean to mean", () => {
  const { container } = render(
    <TrendPlot
      name="Hardness"
      unit="Shore D"
      against="cure"
      againstUnit="min"
      points={[{ x: 4, values: [70], centre: 70, interval: null }]}
      curve={[
        [0, 60],
        [4, 64],
      ]}
    />,
  );
  expect(container.querySelector(".path")).toBeNull();
  expect(container.querySelector(".curve")!.getAttribute("points")!.split(" ")).toHaveLength(2);
});

const batch = (changes: object) => ({
  number: 1,
  name: "Slate 2",
  n: 2,
  prints: 2,
  words: "mean 60 MPa",
  dots: [],
  centre: 60,
  centre_ci: [57, 63],
  bound: 52,
  decimals: 1,
  is_reference: false,
  staircase: null,
  ...changes,
});
const dot = (code: string, value: number, changes: object = {}) => ({
  code,
  value,
  unbroken: false,
  outlier: false,
  flagged: false,
  notices: [],
  ...changes,
});
const result = (batches: object[], line: object | null = null) =>
  ({ key: "bend.strength", name: "Bending strength", unit: "MPa", better: "higher", batches, line }) as never;

test("every specimen is a dot; what did not break and what stands apart look different and say so", () => {
  const dots = [dot("T-1-101", 58), dot("T-1-102", 62, { unbroken: true }), dot("T-1-103", 90, { outlier: true })];
  const { container } = render(<DotPlot result={result([batch({ dots })])} />);
  expect(container.querySelectorAll(".dot")).toHaveLength(3);
  expect(container.querySelectorAll(".dot.unbroken path")).toHaveLength(1);
  expect(container.querySelector(".dot.flagged title")!.textContent).toContain("stands apart");
  expect(rows("Bending strength")).toEqual([
    "T-1-101Slate 258.0\u2009MPa",
    "T-1-102Slate 262.0\u2009MPadid not break",
    "T-1-103Slate 290.0\u2009MPa",
  ]);
});

test("a group without a specimen takes no row, and without any there is no plot", () => {
  const { container, unmount } = render(
    <DotPlot result={result([batch({ dots: [dot("a", 58)] }), batch({ number: 2, name: "Hullform", n: 0 })])} />,
  );
  expect(container.querySelectorAll(".batch")).toHaveLength(1);
  unmount();
  expect(render(<DotPlot result={result([batch({ n: 0 })])} />).container.innerHTML).toBe("");
});

test("the line of the brief stands at its limit, in words", () => {
  const { container } = render(
    <DotPlot
      result={result([batch({ dots: [dot("a", 58), dot("b", 62)] })], { kind: "must", at: "least", limit: 55 })}
    />,
  );
  expect(container.querySelector(".line text")!.textContent).toBe("must be ≥ 55");
  const centre = container.querySelector(".centre")!.getAttribute("d")!;
  expect(at(container.querySelector(".line line")!, "x1")).toBeLessThan(Number(/M ([\d.]+)/.exec(centre)![1]));
});

const member = (fraction: number, values: number[]) => ({
  fraction,
  material_id: String(fraction),
  name: "",
  price_per_l: null,
  sets: [],
  set_state: null,
  values: { "flexing.cycles": values },
});
const flexes = {
  key: "flexing.cycles",
  name: "Flexes to break",
  unit: "cycles",
  at: "least",
  limit: 600,
  kind: "must",
  points: 3,
} as never;
const response = {
  curves: [{ property: "flexing.cycles", fraction: [0, 0.3], value: [90, 1350], low: [30, 1260], high: [150, 1440] }],
  feasible: [[0.14, 0.25]],
  best_fraction: 0.175,
  warnings: [],
} as never;

test("a response shows specimens, the fractions that meet the brief, and the best of them", () => {
  const { container } = render(
    <ResponsePlot
      property={flexes}
      members={[member(0, [95, 101]), member(0.18, [850])] as never}
      response={response}
      most={0.3}
    />,
  );
  expect(container.querySelectorAll("circle.small")).toHaveLength(3);
  const area = container.querySelector(".feasible")!;
  const best = at(container.querySelector(".best line")!, "x1");
  expect(best).toBeGreaterThan(at(area, "x"));
  expect(best).toBeLessThan(at(area, "x") + at(area, "width"));
  expect(container.querySelector(".best text")!.textContent).toBe("17.5 %");
  expect(rows("Flexes to break against share")).toHaveLength(4);
});

test("before there is a response the specimens stand alone with the brief's line", () => {
  const { container } = render(
    <ResponsePlot
      property={flexes}
      members={[member(0, [95]), member(0.3, [900])] as never}
      response={null}
      most={0.3}
    />,
  );
  expect(container.querySelector(".best")).toBeNull();
  expect(container.querySelector(".line text")!.textContent).toBe("must be ≥ 600");
});

const judged = (changes: object = {}) =>
  ({
    name: "Finest slot",
    status: "met",
    words: "0.35 mm",
    unit: "mm",
    line: 0.4,
    demand: { at: "most", basis: "mean" },
    used: { value: 0.35, ci: null, values: [], unbroken: [], bound_low: null, bound_high: 0.38 },
    ...changes,
  }) as never;

test("a requirement's good side lies where the brief wants it", () => {
  const { container, unmount } = render(<RequirementPlot judged={judged()} />);
  expect(at(container.querySelector(".good")!, "x")).toBe(4);
  expect(container.querySelector("text")!.textContent).toBe("≤ 0.4 mm");
  unmount();
  const least = render(<RequirementPlot judged={judged({ demand: { at: "least", basis: "mean" } })} />).container;
  expect(at(least.querySelector(".good")!, "x")).toBe(at(least.querySelector(".limit")!, "x1"));
});

test("a bound is drawn only where the brief is held against it", () => {
  const { container, unmount } = render(<RequirementPlot judged={judged()} />);
  expect(container.querySelector(".bound")).toBeNull();
  unmount();
  expect(
    render(<RequirementPlot judged={judged({ demand: { at: "most", basis: "bound" } })} />).container.querySelector(
      ".bound",
    ),
  ).not.toBeNull();
});

test("with nothing to show the line still stands, and the words stay inside a small drawing", () => {
  const { container } = render(<RequirementPlot judged={judged({ used: null, unit: "a very long unit" })} />);
  expect(container.querySelector(".centre")).toBeNull();
  const words = container.querySelector("text")!;
  expect(at(words, "x") - 3.9 * words.textContent.length).toBeGreaterThanOrEqual(0);
});

test("a curve plot marks a level, where it is met, and its uncertainty", () => {
  const { container } = render(
    <CurvePlot
      name="Success of Rinsewell"
      across="°C"
      up="came out whole"
      points={[
        { x: 9, y: 0.2, name: "1/5" },
        { x: 22, y: 1, name: "11/11" },
      ]}
      lines={[
        {
          points: [
            [9, 0.1],
            [22, 0.97],
          ],
        },
      ]}
      level={{ at: 0.95, words: "95 % wanted" }}
      mark={{ at: 21.4, interval: [17, 25], words: "21 °C" }}
      range={{ from: 0, to: 1 }}
      shown={(value) => `${100 * value} %`}
    />,
  );
  expect(container.textContent).toContain("95 % wanted");
  const between = container.querySelector(".between")!;
  // The uncertainty reaches beyond the plot and is cut at its edge.
  expect(at(between, "x") + at(between, "width")).toBeLessThanOrEqual(780);
  expect(rows("Success of Rinsewell")).toEqual(["°Ccame out whole", "1/520 %", "11/11100 %"]);
});

const trace = (changes: object = {}) =>
  ({
    probe: { name: "Shed wall" },
    from_s: 0,
    to_s: 7200,
    width_s: 0,
    runs: [
      [
        [0, 6, 6, 6],
        [600, 6.4, 6.4, 6.4],
      ],
      [[3600, 24.1, 24.1, 24.1]],
    ],
    low_c: 22,
    high_c: 28,
    band_of: "",
    marks: [],
    excursions: [],
    ...changes,
  }) as never;

test("gaps in a log stay gaps; each stretch is a line of its table", () => {
  const { container } = render(<TracePlot trace={trace()} />);
  expect(container.querySelectorAll("polyline.curve")).toHaveLength(2);
  expect(container.querySelectorAll("circle.small")).toHaveLength(1);
  const [, first, second] = rows("Temperature of Shed wall");
  expect(first).toMatch(/6\.06\.4$/);
  expect(second).toMatch(/24\.124\.1$/);
});

test("steps of a long time show how far each of them reached", () => {
  const { container } = render(
    <TracePlot
      trace={trace({
        width_s: 900,
        runs: [
          [
            [0, 5, 6, 7],
            [900, 5.5, 6.5, 9],
          ],
        ],
      })}
    />,
  );
  expect(container.querySelector(".band")).not.toBeNull();
});

test("what ran meanwhile stands under the time, and what failed is told apart", () => {
  const mark = (code: string, changes: object) => ({
    code,
    kind: "print",
    at_s: 1200,
    material: "Slate 2",
    printer: "Cormorant",
    temp_c: 6.8,
    temp_place: "resin",
    outcome: "whole",
    ...changes,
  });
  const { container } = render(
    <TracePlot
      trace={trace({
        marks: [mark("J-1", {}), mark("J-2", { outcome: "failed" }), mark("T-1", { kind: "test", temp_c: null })],
      })}
    />,
  );
  expect(container.querySelectorAll(".print")).toHaveLength(3);
  expect(container.querySelectorAll(".print.failed")).toHaveLength(1);
  expect(container.querySelectorAll(".print .start")).toHaveLength(2);
});
