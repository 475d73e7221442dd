import { screen } from "@testing-library/react";
import { expect, test } from "vitest";
import { fakeApi, show } from "../../testingTools";
import { SuccessOverTime } from "./SuccessOverTime";

const month = (name: string, prints: number, whole: number) => ({
  month: name,
  prints,
  whole,
  share: whole / prints,
  ci: [0.4, 0.9],
});
const answer = (changes: object = {}) =>
  fakeApi({
    "GET /api/success-over-time": {
      months: [month("2025-11", 8, 7), month("2026-01", 12, 6)],
      change: null,
      ...changes,
    },
  });

test("months stand with their share, its interval and how many prints it rests on", async () => {
  const api = answer();
  show(<SuccessOverTime printer="r" />);
  expect(await screen.findByRole("img", { name: /Whole prints by month, 2.months/ })).toBeTruthy();
  expect(screen.getByRole("row", { name: "Nov 25 8 7 88\u2009% 40\u2009% to 90\u2009%" })).toBeTruthy();
  expect(screen.getByRole("link", { name: /20.prints/ }).getAttribute("href")).toBe("/log?printer=r&parts=");
  expect(api.of("GET", "/api/success-over-time")[0]!.query).toEqual({ printer: "r" });
});

test("a change that chance does not give is said, another is not made much of", async () => {
  const change = { newest: 20, newest_whole: 8, before: 60, before_whole: 57, p: 0.00004, shown: true };
  answer({ change });
  const { unmount } = show(<SuccessOverTime material="m" />);
  expect(await screen.findByText(/Of the newest 20 40.%, of the 60 before 95.%: worse than chance gives/)).toBeTruthy();
  unmount();
  answer({ change: { ...change, newest_whole: 18, p: 0.6, shown: false } });
  show(<SuccessOverTime material="m" />);
  expect(await screen.findByText(/no change shown/)).toBeTruthy();
});

test("one month is words alone, and nothing printed is nothing shown", async () => {
  answer({ months: [month("2026-01", 3, 3)] });
  const { unmount } = show(<SuccessOverTime material="m" />);
  expect(await screen.findByText(/of parts, 3 whole/)).toBeTruthy();
  expect(screen.queryByRole("img")).toBeNull();
  unmount();
  const api = answer({ months: [] });
  show(<SuccessOverTime material="m" />);
  await expect.poll(() => api.sent.length).toBe(1);
  expect(screen.queryByRole("region")).toBeNull();
});
