import { describe, expect, it } from "vitest";
import type { Schemas } from "../api/client";
import { exposureAxis } from "./axis";
import { stagger, type StripMark } from "./marks";
import { emptyWords, summary } from "./words";

const mark = (code: string, exposure_s: number, kind = "flat"): StripMark => ({ code, kind, exposure_s, mark: "ok" });
const axis = exposureAxis(1, 10, 0, 600);

describe("marks on the strip", () => {
  it("stand in one row while they do not touch", () => {
    const placed = stagger([mark("a", 1.5), mark("b", 3), mark("c", 6)], ["flat"], axis);
    expect(placed.map((p) => p.row)).toEqual([0, 0, 0]);
    expect(placed.every((p) => p.labelled)).toBe(true);
  });
  it("move down a row where they would", () => {
    const placed = stagger([mark("a", 2), mark("b", 2.05), mark("c", 2.1)], ["flat"], axis);
    expect(placed.map((p) => p.row)).toEqual([0, 1, 2]);
  });
  it("lose their label rather than run over each other", () => {
    const many = Array.from({ length: 7 }, (_, i) => mark(String(i), 2 + i / 100));
    const placed = stagger(many, ["flat"], axis);
    expect(Math.max(...placed.map((p) => p.row))).toBe(3);
    expect(placed.filter((p) => !p.labelled)).toHaveLength(3);
  });
  it("keep kinds in rows of their own", () => {
    const placed = stagger([mark("a", 2), mark("s", 5, "support")], ["flat", "support"], axis);
    expect(placed.map((p) => [p.code, p.row])).toEqual([
      ["a", 0],
      ["s", 1],
    ]);
  });
});

const plain = (text: string) => text.replace(/\u2009/g, " ");

describe("words of the strip", () => {
  it("sum up a window, a conflict, or nothing", () => {
    const window = { lower_s: 2.319, upper_s: 3.7227, lower_from: "walls", upper_from: "slots", latitude_pct: 47.76 };
    const result = {
      window,
      provisional: false,
      conflict: null,
      p_holds: [],
    } as unknown as Schemas["WindowResult"];
    expect(summary(result).map(plain)).toEqual(["window 2.32–3.72 s · latitude 48 %"]);
    expect(summary({ ...result, provisional: true })).toContain("provisional");
    const none = { decision: "none", p_holds: [{ exposure_s: 2, p: 0 }], conflict: { gap_pct: 58.8 } };
    expect(summary({ ...result, ...none } as unknown as Schemas["WindowResult"]).map(plain)).toEqual([
      "no exposure is right: lanes are 59 % apart",
    ]);
    expect(summary(null)).toEqual([]);
  });
  it("say why there are no lanes", () => {
    expect(emptyWords(null, [])).toContain("order of exposure");
    expect(emptyWords(null, [mark("a", 2)])).toContain("two coupons are read");
    expect(
      emptyWords({ warnings: [{ code: "wrong-direction", message: "" }] } as unknown as Schemas["WindowResult"], [
        mark("a", 2),
      ]),
    ).toContain("more light made less");
  });
});
