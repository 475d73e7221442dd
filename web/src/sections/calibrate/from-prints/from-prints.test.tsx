import { screen, waitFor } from "@testing-library/react";
import { beforeEach, expect, test, vi } from "vitest";
import { fakeApi, Refusal, show } from "../../../testingTools";
import { DecidePanel } from "../DecidePanel";
import { arm, calibration, foundWindow, prediction } from "../fixtures";
import { LimitsDialog } from "../LimitsDialog";
import { PrintsPanel } from "./PrintsPanel";
import { TriedExposures } from "./TriedExposures";

let api: ReturnType<typeof fakeApi>;
beforeEach(() => {
  api = fakeApi({});
});

const seen = (exposure_s: number, counts: object) => ({
  exposure_s,
  prints: 1,
  parts: 12,
  whole: 12,
  under: 0,
  over: 0,
  other: 0,
  ...counts,
});
const byPrints = (next: object | null, changes: object = {}) =>
  arm({
    from_prints: {
      success: { seen: [seen(2.6, { whole: 8, under: 4 }), seen(3.4, {})] },
      prints: 2,
      next,
      notices: [{ code: "other-settings", message: "3 prints were made with other settings than these: left out." }],
    },
    ...changes,
  });
const campaign = (one: ReturnType<typeof arm>) => calibration({ whole_share: 0.9, arms: [one] });

function panel(next: object | null, changes: object = {}) {
  const handlers = { onDialog: vi.fn(), onDecide: vi.fn() };
  const one = byPrints(next, changes);
  return { ...show(<PrintsPanel calibration={campaign(one)} arm={one} {...handlers} />), ...handlers };
}

test("the next print is named with its reason, and starts with the settings of the arm", () => {
  panel({ action: "print", exposure_s: 3, reason: "The widest gap left is 2.6 to 3.4 s." });
  expect(screen.getByText("The widest gap left is 2.6 to 3.4 s.")).toBeTruthy();
  expect(screen.getByRole("link", { name: "Start this print" }).getAttribute("href")).toBe(
    "/log/new?from=C-001&arm=1&exposure=3",
  );
  expect(screen.getByRole("link", { name: "It came out already" }).getAttribute("href")).toMatch(/&done$/);
  expect(screen.getByText(/made with other settings/)).toBeTruthy();
});

test("with enough parts whole it leads on, and the wanted share can be changed", async () => {
  const { user, onDecide, onDialog } = panel(
    { action: "decide", exposure_s: null, reason: "Enough parts came out whole: decide." },
    { window: foundWindow({ warnings: [{ code: "from-prints", message: "Sizes were not measured." }] }) },
  );
  await user.click(screen.getByRole("button", { name: "Decide" }));
  expect(onDecide).toHaveBeenCalled();
  await user.click(screen.getByRole("button", { name: "Change" }));
  expect(onDialog).toHaveBeenCalledWith("limits");
  expect(screen.getByText("Sizes were not measured.")).toBeTruthy();
});

test("what cannot go on says why", () => {
  panel({ action: "review", exposure_s: null, reason: "Something other than exposure differs." });
  expect(screen.getByText("Something other than exposure differs.").className).toBe("trouble");
});

test("each exposure that was printed stands with its counts, and leads to its prints", () => {
  const one = byPrints(null);
  show(<TriedExposures calibration={campaign(one)} arm={one} />);
  const rows = screen.getAllByRole("row").map((row) => row.textContent);
  expect(rows[1]).toMatch(/2\.6.*8 of 12, 67/);
  expect(screen.getByRole("link", { name: /2.prints of parts in the log/ }).getAttribute("href")).toBe(
    "/log?material=m&printer=r&parts=1",
  );
});

test("before the first print it says what there will be", () => {
  const one = arm({ from_prints: { success: null, prints: 0, next: null, notices: [] } });
  show(<TriedExposures calibration={campaign(one)} arm={one} />);
  expect(screen.getByText(/No print of parts with these settings/)).toBeTruthy();
});

test("one school is offered, by the share that is wanted; the others want coupons", () => {
  const one = byPrints(null, {
    window: foundWindow({
      method: "prints",
      policies: { "size-true": null, centre: 3.2, "support-safe": null, "hardest-in-tolerance": null },
      predictions: [
        prediction(3.2, { growth_um: null, tip_probability: null, walls_standing: null, slots_open: null }),
      ],
    }),
  });
  const ignore = () => undefined;
  show(
    <DecidePanel
      calibration={campaign(one)}
      arm={one}
      policy="centre"
      chosen={3.2}
      onPolicy={ignore}
      onChoose={ignore}
      onStep={ignore}
      onDialog={ignore}
    />,
  );
  expect(screen.getByText(/the highest chance that 90.% are whole/)).toBeTruthy();
  expect(screen.getAllByText("only coupons tell")).toHaveLength(3);
});

test("the wanted share is typed in percent; a share that cannot be wanted is said at its field", async () => {
  const onClose = vi.fn();
  const one = byPrints(null);
  api.answers["PUT /api/calibrations/c/limits"] = new Refusal(422, "No.", { whole_share: "Too small." });
  const { user } = show(<LimitsDialog calibration={campaign(one)} onClose={onClose} />);
  const share = screen.getByLabelText<HTMLInputElement>("Parts that should come out whole");
  expect(share.value).toBe("90");
  await user.clear(share);
  await user.type(share, "40");
  await user.click(screen.getByRole("button", { name: "Save" }));
  expect(await screen.findByText("More than 50 and less than 100 %.")).toBeTruthy();
  api.answers["PUT /api/calibrations/c/limits"] = campaign(one);
  await user.clear(share);
  await user.type(share, "95");
  await user.click(screen.getByRole("button", { name: "Save" }));
  await waitFor(() => expect(onClose).toHaveBeenCalled());
  expect(api.of("PUT", "/api/calibrations/c/limits").at(-1)!.body).toMatchObject({ whole_share: 0.95 });
});
