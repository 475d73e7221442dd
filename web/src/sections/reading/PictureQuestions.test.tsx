import { fireEvent, screen } from "@testing-library/react";
import { expect, test, vi } from "vitest";
import { fakeApi, show } from "../../testingTools";
import { emptyDraft } from "./draft";
import type { Coupon, Picture } from "./model";
import { PictureQuestions } from "./PictureQuestions";

const feature = (key: string, kind: string, size_mm: number, side: string | null = null) => ({
  key,
  kind,
  size_mm,
  side,
  axis: null,
  hit: [size_mm, 2, 1, 3] as [number, number, number, number],
});
const FEATURES = [
  feature("wall-left-2", "wall", 0.2, "left"),
  feature("slot-right-1", "slot", 0.1, "right"),
  ...[3, 1.2, 0.65].map((height, index) => feature(`legible-${index + 1}`, "legible", height)),
  ...[1, 2, 3, 4, 5].map((step) => feature(`taper-${step}`, "taper", 0.1 - 0.035 * step)),
];
const mark = (key: string, state: string | null, reason: string) => ({
  key,
  state,
  size_mm: null,
  sd_um: null,
  sure: false,
  reason,
});
const COUPON = {
  code: "104R",
  plan: { width_mm: 52, height_mm: 36, features: FEATURES, shapes: [] },
} as never as Coupon;
const picture = (asked: string[]) =>
  ({
    id: "p1",
    margin_mm: 1,
    asked,
    marks: [
      mark("wall-left-2", "partial", "just between two states"),
      mark("slot-right-1", null, "light mirrors in it"),
      mark("legible-1", null, "letters are read by eye"),
      mark("taper-3", "formed", "its head is not clear"),
    ],
  }) as never as Picture;

function asks(asked: string[], draft = emptyDraft()) {
  fakeApi({});
  const onDraft = vi.fn();
  show(<PictureQuestions coupon={COUPON} picture={picture(asked)} draft={draft} onDraft={onDraft} />);
  return onDraft;
}

test("the first that is not answered is shown large, with why it is asked, and one tap answers it", () => {
  const onDraft = asks(["wall-left-2", "slot-right-1"]);
  screen.getByText(/2 marks to look at/);
  screen.getByText(/just between two states/);
  screen.getByRole("img", { name: /0.2.mm wall, left/ });
  fireEvent.click(screen.getByRole("button", { name: "in part" }));
  expect(onDraft).toHaveBeenCalledWith(expect.objectContaining({ states: { "wall-left-2": "partial" } }));
});

test("what cannot be told is passed over and stays unread", () => {
  const onDraft = asks(["wall-left-2", "slot-right-1"]);
  fireEvent.click(screen.getByRole("button", { name: "Cannot tell" }));
  screen.getByText(/light mirrors in it/);
  screen.getByRole("button", { name: "closed" });
  fireEvent.click(screen.getByRole("button", { name: "Cannot tell" }));
  screen.getByText(/Nothing more is asked/);
  expect(onDraft).not.toHaveBeenCalled();
});

test("of the taper plug the step that the picture shows is offered with its neighbours", () => {
  const onDraft = asks(["taper-3"]);
  screen.getByText(/at which step the taper plug stopped/);
  expect(screen.getAllByRole("button").map((one) => one.textContent)).toEqual(["1", "2", "3", "4", "5", "Cannot tell"]);
  fireEvent.click(screen.getByRole("button", { name: "4" }));
  expect(onDraft).toHaveBeenCalledWith(
    expect.objectContaining({ states: expect.objectContaining({ "taper-4": "formed" }) as never }),
  );
});

test("a neighbour of what the picture shows answers the question too", () => {
  asks(["taper-3"], { ...emptyDraft(), states: { "taper-4": "formed" } });
  screen.getByText(/Nothing more is asked/);
});

test("the smallest code still read is one question, and answers for all sizes", () => {
  const onDraft = asks(["legible-1"]);
  screen.getByText(/1 mark to look at: which is the smallest code still read/);
  fireEvent.click(screen.getByRole("button", { name: /^1.2.mm$/ }));
  expect(onDraft).toHaveBeenCalledWith(
    expect.objectContaining({ states: { "legible-1": "formed", "legible-2": "formed", "legible-3": "absent" } }),
  );
});
