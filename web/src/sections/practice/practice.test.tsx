import { expect, it } from "vitest";
import type { Schemas } from "../../shared/api/client";
import { biasSentence } from "./PracticePage";

const bias = (changes: Partial<Schemas["PracticeBias"]>): Schemas["PracticeBias"] => ({
  of: "walls",
  n: 6,
  bias_um: 35,
  bias_ci_um: [12, 58],
  shown: true,
  ...changes,
});

it("says what a bias means only where it is more than chance", () => {
  expect(biasSentence(bias({}))).toContain("walls that stand are missed");
  expect(biasSentence(bias({ bias_um: -35, bias_ci_um: [-58, -12] }))).toContain("taken for standing");
  expect(biasSentence(bias({ bias_ci_um: [-12, 82], shown: false }))).toContain("no bias is shown");
  expect(biasSentence(bias({ bias_ci_um: null, shown: false, n: 2 }))).toContain("too few coupons");
});
