import { screen } from "@testing-library/react";
import { expect, test } from "vitest";
import { show } from "../../testingTools";
import { arm, calibration, foundWindow } from "./fixtures";
import { useCampaignPlace } from "./useCampaignPlace";

const DECIDED = arm({ id: "a1", number: 1, stage: "decide", window: foundWindow() });
const LATER = arm({ id: "a2", number: 2, stage: "range" });

function Page({ arms }: { arms: ReturnType<typeof arm>[] }) {
  const place = useCampaignPlace(calibration({ arms }));
  return (
    <>
      <output>
        {JSON.stringify({
          arm: place.arm.number,
          step: place.step,
          chosen: place.chosen,
          policy: place.policy,
          reasoned: place.reasoned,
        })}
      </output>
      <button onClick={() => place.move(1)}>more</button>
      <button onClick={() => place.move(-100)}>much less</button>
      <button onClick={() => place.toPolicy("centre")}>centre</button>
      <button onClick={() => place.toArm(2)}>arm 2</button>
      <button onClick={() => place.toStep("confirm")}>confirm</button>
    </>
  );
}
const at = (address: string, arms = [DECIDED, LATER]) => show(<Page arms={arms} />, { at: address });
const told = () => JSON.parse(screen.getByRole("status").textContent) as Record<string, unknown>;

test("without an address one stands where the work is furthest, at the first school that offers something", () => {
  at("/calibrate/c");
  expect(told()).toEqual({ arm: 1, step: "decide", chosen: 2.6, policy: "size-true", reasoned: "size-true" });
});

test("the address says arm, step and policy", () => {
  at("/calibrate/c?arm=1&step=issue&policy=hardest-in-tolerance");
  expect(told()).toMatchObject({ step: "issue", chosen: 3.6, policy: "hardest-in-tolerance" });
});

test("a school that offers nothing falls back on the centre, and an unknown step on where the work is", () => {
  at("/calibrate/c?policy=support-safe&step=nowhere");
  expect(told()).toMatchObject({ chosen: 2.9, policy: "centre", reasoned: "centre", step: "decide" });
});

test("the line moves by one printer step, is called one's own choice, and stays on the ladder", async () => {
  const { user } = at("/calibrate/c?policy=centre");
  await user.click(screen.getByText("more"));
  expect(told()).toMatchObject({ chosen: 3, reasoned: "own choice" });
  await user.click(screen.getByText("much less"));
  expect(told()).toMatchObject({ chosen: 1.5 });
});

test("moved back onto its school's exposure it is that school's again", async () => {
  const { user } = at("/calibrate/c?policy=centre&at=2.8");
  expect(told()).toMatchObject({ chosen: 2.8, reasoned: "own choice" });
  await user.click(screen.getByText("more"));
  expect(told()).toMatchObject({ chosen: 2.9, reasoned: "centre" });
});

test("another school lets go of what was chosen by hand", async () => {
  const { user, place } = at("/calibrate/c?at=3.3");
  await user.click(screen.getByText("centre"));
  expect(told()).toMatchObject({ chosen: 2.9, policy: "centre" });
  expect(place()).not.toContain("at=");
});

test("another arm is looked at without the exposure chosen in this one", async () => {
  const { user, place } = at("/calibrate/c?at=3.3&policy=centre&step=decide");
  await user.click(screen.getByText("arm 2"));
  expect(told()).toMatchObject({ arm: 2, step: "decide", chosen: null });
  expect(place()).toBe("/?step=decide&arm=2".replace("/", "/calibrate/c"));
});

test("a step is a place to come back to", async () => {
  const { user, place } = at("/calibrate/c");
  await user.click(screen.getByText("confirm"));
  expect(place()).toBe("/calibrate/c?step=confirm");
});

test("without a window no exposure is chosen", () => {
  at("/calibrate/c", [LATER]);
  expect(told()).toMatchObject({ arm: 2, step: "range", chosen: null });
});
