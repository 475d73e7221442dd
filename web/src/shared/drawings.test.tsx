import { fireEvent, render, screen } from "@testing-library/react";
import { expect, test, vi } from "vitest";
import { allFormed, CouponDrawing, featureLabel, type Plan } from "./coupon/CouponDrawing";
import { PlateDrawing } from "./plate/PlateDrawing";
import { MARKS, markOf, StateMark } from "./StateMark";
import { VatDrawing } from "./vat/VatDrawing";

const box = (x: number, y: number, w: number, h: number) => [
  [x, y],
  [x + w, y],
  [x + w, y + h],
  [x, y + h],
];
const feature = (key: string, kind: string, size_mm: number, changes: object = {}) => ({
  key,
  kind,
  size_mm,
  side: "left",
  axis: null,
  hit: [0, 0, 2, 2],
  ...changes,
});
const PLAN = {
  kind: "flat",
  title: "Flat coupon",
  width_mm: 52,
  height_mm: 33,
  thickness_mm: 1.35,
  volume_ml: 1.2,
  does_not_tell: "",
  parts: [{ name: "Walls", tells: "", place: [0, 0, 10, 10] }],
  features: [
    feature("w1", "wall", 0.21),
    feature("s1", "slot", 0.35, { side: "right" }),
    feature("x1", "outer", 8, { side: null, axis: "x" }),
  ],
  shapes: [
    { role: "raised", points: box(1, 1, 1, 5), feature: "w1", text: null },
    { role: "cut", points: box(4, 1, 1, 5), feature: "s1", text: null },
    { role: "raised", points: box(10, 1, 8, 4), feature: "x1", text: null },
    { role: "text", points: box(20, 20, 10, 4), feature: null, text: "code" },
    { role: "text", points: box(20, 26, 10, 3), feature: null, text: "exposure" },
  ],
} as unknown as Plan;
const drawn = (role: string) =>
  [...document.querySelectorAll(`polygon.${role}`)].map((one) => one.getAttribute("class"));

test("a coupon carries its code and its exposure, and shows what was seen of each feature", () => {
  render(
    <CouponDrawing
      plan={PLAN}
      states={{ w1: "formed", s1: "absent" }}
      measured={{ x1: 8.04 }}
      code="104R"
      exposure="2.4s"
    />,
  );
  expect(screen.getByRole("img", { name: "Flat coupon" }).textContent).toBe("104R2.4s");
  expect(drawn("raised")).toEqual(["raised formed", "raised measured"]);
  expect(drawn("cut")).toEqual(["cut absent"]);
});

test("without a code nothing stands in its place", () => {
  render(<CouponDrawing plan={PLAN} states={{}} />);
  expect(document.querySelectorAll("text")).toHaveLength(0);
});

test("what was lost in handling is struck out", () => {
  render(<CouponDrawing plan={PLAN} states={{ w1: "lost" }} />);
  expect(document.querySelectorAll(".strike")).toHaveLength(1);
});

test("a tap on a feature is a tap on that feature, named for who cannot see it", () => {
  const onTap = vi.fn();
  render(<CouponDrawing plan={PLAN} states={{ w1: "formed" }} onTap={onTap} />);
  fireEvent.click(screen.getByRole("button", { name: "0.21 mm wall left: stands" }));
  expect(onTap).toHaveBeenCalledWith(PLAN.features[0]);
});

test("letters stand at the parts of the library's drawing", () => {
  render(<CouponDrawing plan={PLAN} states={allFormed(PLAN)} callouts />);
  expect(document.querySelector(".callout text")!.textContent).toBe("A");
  expect(drawn("raised")[0]).toBe("raised formed");
});

test.each([
  [feature("a", "wall", 0.21), "absent", undefined, "0.21 mm wall left: missing"],
  [feature("a", "slot", 0.35), "formed", undefined, "0.35 mm slot left: open"],
  [feature("a", "tip", 0.42), "partial", undefined, "0.42 mm tip left: in part"],
  [feature("a", "fit", 6), "partial", undefined, "6 mm gauge piece left: tight"],
  [feature("a", "wall", 0.21), "lost", undefined, "0.21 mm wall left: lost in handling"],
  [feature("a", "outer", 8, { side: null, axis: "y" }), undefined, 8.04, "8 mm bar along Y: 8.04 mm"],
  [feature("a", "vernier", -0.035), undefined, undefined, "overlap 0.035 mm vernier pair left: not read"],
  [feature("a", "vernier", 0), "formed", undefined, "no gap 0 mm vernier pair left: just touches"],
])("a feature is said in words", (one, state, measured, said) => {
  expect(featureLabel(one as never, state as never, measured)).toBe(said);
});

test.each([
  [{ left_out: true, status: "read", verdict: "ok" }, "left out"],
  [{ left_out: false, status: "planned", verdict: null }, "planned"],
  [{ left_out: false, status: "printed", verdict: null }, "printed"],
  [{ left_out: false, status: "read", verdict: "over" }, "over"],
  [{ left_out: false, status: "read", verdict: null }, "unjudged"],
])("a coupon has one mark", (card, mark) => {
  expect(markOf(card)).toBe(mark);
});

test("no two states look and read alike", () => {
  const words = Object.values(MARKS).map((one) => one.word);
  expect(new Set(words).size).toBe(words.length);
});

test("a state is a shape and a word, and may be called by a name of its own", () => {
  render(<StateMark name="issued" word="S-001" />);
  expect(screen.getByText("S-001")).toBeTruthy();
  expect(document.querySelector("svg path")).not.toBeNull();
});

const vat = (changes: object = {}) => ({
  name: "Vat of Gannet",
  capacity: 240,
  fillLine: 150,
  layers: [
    { name: "Hullform", volume_ml: 120 },
    { name: "Rinsewell", volume_ml: 45 },
  ],
  ...changes,
});
const heights = (name: string) =>
  [...document.querySelectorAll(`rect.${name}`)].map((one) => Number(one.getAttribute("height")));

test("a vat is drawn to scale: a millilitre is as high in every layer", () => {
  render(<VatDrawing {...vat()} />);
  const [hull, rinse] = [...heights("layer-0"), ...heights("layer-1")];
  expect(hull! / rinse!).toBeCloseTo(120 / 45, 5);
  expect(screen.getByRole("img").getAttribute("aria-label")).toContain("120");
});

test("what would be poured is hatched on what stays after a drain", () => {
  render(
    <VatDrawing
      {...vat({
        layers: [{ name: "Hullform", volume_ml: 100 }],
        pours: [{ name: "Kelpflex", volume_ml: 50 }],
        drain: 50,
      })}
    />,
  );
  expect(heights("layer-0")).toEqual([50]);
  expect(heights("pour")).toEqual([50]);
  expect(screen.getByRole("img").getAttribute("aria-label")).toMatch(/pour 50.ml Kelpflex.*drain 50.ml first/);
});

test("an empty vat says so", () => {
  render(<VatDrawing {...vat({ layers: [] })} />);
  expect(screen.getByText("empty")).toBeTruthy();
});

test("thin layers keep their words apart", () => {
  render(
    <VatDrawing
      {...vat({
        layers: [
          { name: "a", volume_ml: 100 },
          { name: "b", volume_ml: 1 },
          { name: "c", volume_ml: 1 },
        ],
      })}
    />,
  );
  const ys = ["a", "b", "c"].map((name) => Number(screen.getByText(name).getAttribute("y")));
  expect(ys[0]! - ys[1]!).toBeGreaterThanOrEqual(42);
  expect(ys[1]! - ys[2]!).toBeGreaterThanOrEqual(42);
});

test("a plate says how much light each place gets, and keeps off known marks", () => {
  render(
    <PlateDrawing
      width_mm={153}
      height_mm={87}
      places={[
        { exposure_s: 2.4, x_mm: 5, y_mm: 5, width_mm: 50, height_mm: 33, dose_ratio: 0.92 },
        { exposure_s: 3, x_mm: 60, y_mm: 5, width_mm: 50, height_mm: 33, code: "104R" },
      ]}
      keepOff={[[100, 60, 5, 5]]}
      step={0.1}
    />,
  );
  expect(screen.getByRole("img", { name: "Plate with 2 coupons, 1 known marks" })).toBeTruthy();
  expect(screen.getByText(/92.%/)).toBeTruthy();
  expect(screen.getByText("104R")).toBeTruthy();
  expect(document.querySelectorAll(".keep-off")).toHaveLength(1);
});
