import { screen, waitFor, within } from "@testing-library/react";
import { beforeEach, expect, test, vi } from "vitest";
import { endsWhenStopped, fakeApi, Refusal, show } from "../../testingTools";
import { ArmDialog } from "./ArmDialog";
import { CutOffsDialog } from "../../shared/CutOffsDialog";
import { arm, calibration } from "./fixtures";
import { NotesDialog } from "./NotesDialog";
import { VirtualPrint } from "../../shared/coupon/VirtualPrint";

const SETTINGS = {
  base_layers: 4,
  base_exposure_s: 24,
  transition_layers: 3,
  rest_before_s: 1,
  rest_after_lift_s: 0,
  rest_after_retract_s: 0,
  lift_mm: 6,
  lift_mm_min: 60,
  retract_mm_min: 150,
  light_power_pct: 100,
  anti_aliasing: 0,
};
const job = (changes: object = {}) => ({
  id: "j",
  kind: "virtual-print",
  state: "running",
  progress: 0.25,
  message: "Layer 9 of 27",
  result: null,
  fields: {},
  created_at: "2026-01-21T08:00:00Z",
  ended_at: null,
  ...changes,
});
let api: ReturnType<typeof fakeApi>;
beforeEach(() => {
  api = fakeApi({
    "GET /api/bottles": {
      items: [
        { id: "b1", code: "B-001", lot: "SL-2537" },
        { id: "b2", code: "B-007", lot: "SL-2611" },
      ],
    },
    "GET /api/finish-routes": { items: [{ id: "f1", name: "Two-bath solvent" }] },
    "POST /api/calibrations/c/arms": { arms: [{ number: 1 }, { number: 2 }] },
  });
});
const sent = (method: string, path: string) => api.of(method, path).at(-1)?.body;
async function typed(user: ReturnType<typeof show>["user"], label: string, value: string) {
  await user.clear(screen.getByLabelText(label));
  await user.type(screen.getByLabelText(label), value);
}

const anArm = (changes: object = {}) => {
  const onStarted = vi.fn();
  const onClose = vi.fn();
  return {
    ...show(
      <ArmDialog
        calibration={calibration(changes)}
        from={arm({ settings: SETTINGS })}
        onClose={onClose}
        onStarted={onStarted}
      />,
    ),
    onStarted,
    onClose,
  };
};

test("an arm begins from the settings of the one it is compared with", () => {
  anArm();
  expect(screen.getByLabelText("Rest before exposure")).toHaveProperty("value", "1");
  expect(screen.getByLabelText("Base exposure")).toHaveProperty("value", "24");
  expect(screen.getByText(/Coupons of two arms never share a window/)).toBeTruthy();
});

test("two changes at once are allowed and warned of: the difference tells nothing then", async () => {
  const { user } = anArm();
  await typed(user, "Rest before exposure", "4");
  expect(screen.queryByText(/settings differ/)).toBeNull();
  await typed(user, "Lift speed", "30");
  expect(
    screen.getByText("2 settings differ: a difference between the arms will not tell which one made it."),
  ).toBeTruthy();
  expect(screen.getByLabelText("Name").getAttribute("placeholder")).toContain(
    "rest before exposure 4 s, lift speed 30",
  );
});

test("what cannot be read is not sent; a name of one's own wins over the suggested one", async () => {
  const { user, onStarted, onClose } = anArm();
  await typed(user, "Rest before exposure", "long");
  await user.click(screen.getByRole("button", { name: "Start" }));
  expect(sent("POST", "/api/calibrations/c/arms")).toBeUndefined();
  await typed(user, "Rest before exposure", "6");
  await typed(user, "Name", "long rest");
  await user.click(screen.getByRole("button", { name: "Start" }));
  await waitFor(() => expect(onStarted).toHaveBeenCalledWith(2));
  expect(onClose).toHaveBeenCalled();
  expect(sent("POST", "/api/calibrations/c/arms")).toMatchObject({
    name: "long rest",
    settings: { rest_before_s: 6, lift_mm_min: 60 },
  });
});

test("an arm of a name that is taken is refused at the name, and stays open", async () => {
  api.answers["POST /api/calibrations/c/arms"] = new Refusal(422, "Taken.", { name: "There is an arm of this name." });
  const { user, onClose } = anArm();
  await user.click(screen.getByRole("button", { name: "Start" }));
  expect(await screen.findByText("There is an arm of this name.")).toBeTruthy();
  expect(onClose).not.toHaveBeenCalled();
});

const notes = (changes: object = {}) => {
  const onClose = vi.fn();
  return {
    ...show(
      <NotesDialog
        calibration={calibration({ bottle_id: "b1", finish_route_id: null, note: "dusty shed", ...changes })}
        onClose={onClose}
      />,
    ),
    onClose,
  };
};

test("bottle, route and note begin as they are, and are saved with the version they were read at", async () => {
  api.answers["PUT /api/calibrations/c/notes"] = calibration();
  const { user, onClose } = notes();
  await waitFor(() => expect(screen.getByLabelText("Bottle")).toHaveProperty("value", "b1"));
  expect(api.of("GET", "/api/bottles")[0]!.query).toMatchObject({ material_id: "m", retired: "false" });
  await user.selectOptions(screen.getByLabelText("Bottle"), "B-007, lot SL-2611");
  await user.selectOptions(screen.getByLabelText("Finish route"), "Two-bath solvent");
  await user.type(screen.getByLabelText("Note"), ", swept since");
  await user.click(screen.getByRole("button", { name: "Save" }));
  await waitFor(() => expect(onClose).toHaveBeenCalled());
  expect(sent("PUT", "/api/calibrations/c/notes")).toEqual({
    version: 3,
    bottle_id: "b2",
    finish_route_id: "f1",
    note: "dusty shed, swept since",
  });
});

test("a bottle can be taken back to not noted; an edit somebody overtook is not lost", async () => {
  api.answers["PUT /api/calibrations/c/notes"] = new Refusal(409, "Somebody changed it meanwhile: reload.");
  const { user, onClose } = notes();
  await waitFor(() => expect(screen.getByLabelText("Bottle")).toHaveProperty("value", "b1"));
  await user.selectOptions(screen.getByLabelText("Bottle"), "not noted");
  await user.click(screen.getByRole("button", { name: "Save" }));
  expect(await screen.findByText("Somebody changed it meanwhile: reload.")).toBeTruthy();
  expect(sent("PUT", "/api/calibrations/c/notes")).toMatchObject({ bottle_id: null });
  expect(onClose).not.toHaveBeenCalled();
  expect(screen.getByLabelText("Note")).toHaveProperty("value", "dusty shed");
});

const virtual = (underWay?: string) => show(<VirtualPrint code="103N" printId="p" underWay={underWay} />);

test("a print under way shows its progress on its own bar, and can be stopped", async () => {
  api.answers["GET /api/jobs/j"] = job();
  const { user } = virtual("j");
  const bar = await screen.findByRole("progressbar", { name: "Progress of 103N" });
  expect(bar.getAttribute("aria-valuenow")).toBe("25");
  expect(screen.getByText("Layer 9 of 27")).toBeTruthy();
  endsWhenStopped(api, "j", job(), job({ state: "cancelled" }));
  await user.click(screen.getByRole("button", { name: "Stop printing 103N" }));
  expect(await screen.findByText("Stopped; nothing was kept.")).toBeTruthy();
  expect(api.of("POST", "/api/jobs/j/cancel")).toHaveLength(1);
});

test("one that waits for its turn says so, one that failed says why and may be tried again", async () => {
  api.answers["GET /api/jobs/j"] = job({ state: "queued", progress: 0, message: "" });
  const { unmount } = virtual("j");
  expect(await screen.findByText("Waits its turn")).toBeTruthy();
  unmount();
  api.answers["GET /api/jobs/j"] = job({ state: "failed", message: "The vat is empty." });
  virtual("j");
  expect(await screen.findByText("The vat is empty.")).toBeTruthy();
  expect(screen.getByRole("button", { name: "Print 103N on the simulated printer" })).toBeTruthy();
});

test("it is begun with how warm the resin is and how fast; both are remembered for the next", async () => {
  api.answers["POST /api/virtual-prints"] = job({ state: "queued" });
  api.answers["GET /api/jobs/j"] = job({ state: "done", progress: 1 });
  const { user } = virtual();
  await user.click(screen.getByRole("button", { name: "Print 103N on the simulated printer" }));
  const dialog = within(await screen.findByRole("dialog"));
  expect(dialog.getByText(/Its truth stays hidden/)).toBeTruthy();
  await user.clear(dialog.getByLabelText("Resin temperature at start"));
  expect(dialog.getByRole("button", { name: "Print" })).toHaveProperty("disabled", true);
  await user.type(dialog.getByLabelText("Resin temperature at start"), "21.5");
  await user.selectOptions(dialog.getByLabelText("How fast"), "as fast as it can");
  await user.click(dialog.getByRole("button", { name: "Print" }));
  await waitFor(() => expect(screen.queryByRole("dialog")).toBeNull());
  expect(sent("POST", "/api/virtual-prints")).toEqual({
    print_id: "p",
    temp_c: 21.5,
    speed: 1_000_000,
    outside_band: "",
  });
  await user.click(screen.getByRole("button", { name: "Print 103N on the simulated printer" }));
  expect(screen.getByLabelText("Resin temperature at start")).toHaveProperty("value", "21.5");
});

test("resin outside the band wants a reason before it is printed", async () => {
  api.answers["POST /api/virtual-prints"] = new Refusal(422, "9 °C is below the band.", { outside_band: "Say why." });
  const { user } = virtual();
  await user.click(screen.getByRole("button", { name: "Print 103N on the simulated printer" }));
  const dialog = within(await screen.findByRole("dialog"));
  await user.click(dialog.getByRole("button", { name: "Print" }));
  expect(await dialog.findByText("9 °C is below the band.")).toBeTruthy();
  api.answers["POST /api/virtual-prints"] = job({ state: "queued" });
  api.answers["GET /api/jobs/j"] = job();
  await user.type(dialog.getByLabelText("Print anyway because"), "to see it fail");
  await user.click(dialog.getByRole("button", { name: "Print" }));
  await waitFor(() => expect(sent("POST", "/api/virtual-prints")).toMatchObject({ outside_band: "to see it fail" }));
  expect(await screen.findByRole("progressbar", { name: "Progress of 103N" })).toBeTruthy();
});

const CUT_OFFS = { offer: 0.9, lanes: 0.9, nominal: 0.8, none: 0.05, most_coupons: 16, version: 3 };

test("how sure an offer must be is typed in percent, for the whole lab, and undone in one press", async () => {
  api.answers["GET /api/cut-offs"] = CUT_OFFS;
  api.answers["PUT /api/cut-offs"] = CUT_OFFS;
  const onClose = vi.fn();
  const { user } = show(<CutOffsDialog onClose={onClose} />);
  const offer = await screen.findByLabelText("An exposure is offered from");
  expect((offer as HTMLInputElement).value).toBe("90");
  await typed(user, "An exposure is offered from", "95");
  await user.click(screen.getByRole("button", { name: "Save" }));
  await waitFor(() => expect(onClose).toHaveBeenCalled());
  expect(sent("PUT", "/api/cut-offs")).toEqual({ ...CUT_OFFS, offer: 0.95 });
  await user.click(screen.getByRole("button", { name: "Undo" }));
  await waitFor(() => expect(sent("PUT", "/api/cut-offs")).toEqual({ ...CUT_OFFS, version: 4 }));
});

test("a cut-off that promises nothing is refused at its field", async () => {
  api.answers["GET /api/cut-offs"] = CUT_OFFS;
  api.answers["PUT /api/cut-offs"] = new Refusal(422, "No.", { offer: "Give 50 % or more." });
  const { user } = show(<CutOffsDialog onClose={vi.fn()} />);
  await screen.findByLabelText("An exposure is offered from");
  await typed(user, "An exposure is offered from", "20");
  await user.click(screen.getByRole("button", { name: "Save" }));
  expect(await screen.findByText("Give 50 % or more.")).toBeTruthy();
});
