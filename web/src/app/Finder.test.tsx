import { screen, waitFor } from "@testing-library/react";
import { beforeEach, expect, test, vi } from "vitest";
import { fakeApi, show } from "../testingTools";
import { placeOfFound } from "../shared/places";
import { Finder } from "./Finder";

const COUPON = { kind: "coupon", id: "k", code: "104R", title: "Slate 2 on Cormorant", detail: "2.4 s" };
const RESIN = { kind: "resin", id: "r", code: "R-001", title: "Slate 2", detail: "basic" };
let api: ReturnType<typeof fakeApi>;
beforeEach(() => {
  api = fakeApi({ "GET /api/find": { items: [COUPON, RESIN] } });
});

test.each([
  ["coupon", "/coupons/104R"],
  ["calibration", "/calibrate/k"],
  ["test", "/test/104R"],
  ["specimen", "/test/2.4 s/104R"],
  ["brief", "/test/briefs"],
  ["set", "/sets/104R"],
  ["blend", "/blend/recipes/k"],
  ["batch", "/blend/batches/104R"],
  ["series", "/blend/series/104R"],
  ["qualification", "/qualify/records/104R"],
  ["warm start", "/climate/warm-start/104R"],
  ["resin", "/materials/k"],
  ["bottle", "/bottles/104R"],
  ["printer", "/printers/k"],
  ["print", "/log/104R"],
  ["finish route", "/shelf/finish-routes?edit=k"],
])("a %s opens where it is worked on", (kind, place) => {
  expect(placeOfFound({ ...COUPON, kind } as never)).toBe(place);
});

test("it says what can be typed, and asks nothing before something is", () => {
  show(<Finder start="" onClose={() => undefined} />);
  expect(screen.getByText(/Type a code, a name or what you want to do/)).toBeTruthy();
  expect(api.sent).toEqual([]);
});

test("a code typed to its end opens it, whatever stands first", async () => {
  const onClose = vi.fn();
  const { user, place } = show(<Finder start="" onClose={onClose} />);
  await user.type(screen.getByRole("searchbox"), "r-001{Enter}");
  await waitFor(() => expect(place()).toBe("/materials/r"));
  expect(onClose).toHaveBeenCalled();
});

test("arrows move through what was found, and Enter opens that", async () => {
  const { user, place } = show(<Finder start="slate" onClose={() => undefined} />);
  expect(await screen.findByText("104R")).toBeTruthy();
  await user.type(screen.getByRole("searchbox"), "{ArrowDown}{Enter}");
  await waitFor(() => expect(place()).toBe("/materials/r"));
});

test("nothing found is said with what was looked for", async () => {
  api.answers["GET /api/find"] = { items: [] };
  show(<Finder start="kelp" onClose={() => undefined} />);
  expect(await screen.findByText("No match for “kelp”.")).toBeTruthy();
});

test("what can be begun is found by its words, in any order", async () => {
  api.answers["GET /api/find"] = { items: [] };
  const { user, place } = show(<Finder start="" onClose={() => undefined} />);
  await user.type(screen.getByRole("searchbox"), "print lo{Enter}");
  await waitFor(() => expect(place()).toBe("/log/new"));
});
