import { screen, waitFor, within } from "@testing-library/react";
import { beforeEach, expect, test, vi } from "vitest";
import { fakeApi, Refusal, show } from "../../testingTools";
import { EventDialog } from "./EventDialog";
import { TimeLine } from "./TimeLine";

const rule = (key: string, name: string, subject: string, changes: object = {}) => ({
  key,
  name,
  subject,
  derived: false,
  resets_hours: false,
  ...changes,
});
const RULES = [
  rule("screen-replaced", "Screen replaced", "printer", { resets_hours: true }),
  rule("vat-topped-up", "Vat topped up with another material", "pair"),
  rule("dye-added", "Dye added", "bottle"),
  rule("outside-band", "Printed outside its temperature band", "pair", { derived: true }),
];
const touched = (set_code: string, effect = "lapse") => ({
  set_code,
  effect,
  material: "Slate 2",
  printer: "Gannet",
  layer_height_um: 50,
});
const printer = { id: "g", name: "Gannet" };
const bottle = (id: string, code: string) => ({ id, code, lot: `${code}-lot` });
let api: ReturnType<typeof fakeApi>;
beforeEach(() => {
  api = fakeApi({
    "GET /api/validity-rules": { rules: RULES },
    "GET /api/resins": {
      items: [
        { id: "s", name: "Slate 2" },
        { id: "h", name: "Hullform" },
      ],
    },
    "POST /api/events/preview": { why: "Another screen gives other light.", touched: [touched("S-002")] },
  });
});
const chooses = (select: HTMLElement) =>
  within(select)
    .getAllByRole("option")
    .map((one) => one.textContent);
const recorded = () => api.of("POST", "/api/events").map((one) => one.body);
const previews = () => api.of("POST", "/api/events/preview");

test("a printer is offered what happens to printers and their vats, not what follows from records by itself", async () => {
  show(<EventDialog printer={printer} onClose={() => undefined} />);
  expect(chooses(await screen.findByLabelText("What"))).toEqual([
    "Choose…",
    "Screen replaced",
    "Vat topped up with another material",
  ]);
  expect(screen.getByRole<HTMLButtonElement>("button", { name: "Record it" }).disabled).toBe(true);
});

test("what it touches is said before it is recorded, and recording can be undone", async () => {
  const onClose = vi.fn();
  api.answers["POST /api/events"] = { event: { id: "e", name: "Screen replaced" }, touched: [touched("S-002")] };
  api.answers["POST /api/events/e/withdraw"] = {};
  const { user } = show(<EventDialog printer={printer} onClose={onClose} />);
  await user.selectOptions(await screen.findByLabelText("What"), "Screen replaced");
  const said = await screen.findByRole("region", { name: "What it touches" });
  expect(said.textContent).toContain("Another screen gives other light. It touches 1 set:");
  expect(within(said).getByText("lapsed")).toBeTruthy();
  expect(screen.getByText("Start again at 0")).toBeTruthy();
  await user.type(screen.getByLabelText("Screen hours"), "0");
  await user.type(screen.getByLabelText("Note"), "New panel");
  await user.click(screen.getByRole("button", { name: "Record it" }));
  await waitFor(() => expect(onClose).toHaveBeenCalled());
  expect(recorded()).toEqual([
    expect.objectContaining({
      kind: "screen-replaced",
      printer_id: "g",
      material_id: null,
      bottle_id: null,
      happened_at: null,
      screen_hours: 0,
      note: "New panel",
    }),
  ]);
  await user.click(await screen.findByRole("button", { name: "Undo" }));
  await waitFor(() =>
    expect(api.of("POST", "/api/events/e/withdraw")[0]?.body).toEqual({ reason: "undone right after recording" }),
  );
});

test("what happens to a pair waits for the material", async () => {
  const { user } = show(<EventDialog printer={printer} onClose={() => undefined} />);
  await user.selectOptions(await screen.findByLabelText("What"), "Vat topped up with another material");
  expect(previews()).toHaveLength(0);
  await user.selectOptions(
    screen.getByLabelText("Material in the vat"),
    await screen.findByRole("option", { name: "Hullform" }),
  );
  await waitFor(() => expect(previews().at(-1)?.body).toMatchObject({ printer_id: "g", material_id: "h" }));
});

test("the only bottle of a material is chosen already; of two, one is asked for", async () => {
  const material = { id: "s", name: "Slate 2", bottles: [bottle("b", "B-001")] };
  const one = show(<EventDialog material={material} onClose={() => undefined} />);
  await one.user.selectOptions(await screen.findByLabelText("What"), "Dye added");
  await waitFor(() => expect(previews().at(-1)?.body).toMatchObject({ bottle_id: "b", printer_id: null }));
  expect(screen.queryByLabelText("Screen hours")).toBeNull();
  one.unmount();
  const two = show(
    <EventDialog
      material={{ ...material, bottles: [bottle("b", "B-001"), bottle("c", "B-002")] }}
      onClose={() => undefined}
    />,
  );
  await two.user.selectOptions(await screen.findByLabelText("What"), "Dye added");
  expect(chooses(screen.getByLabelText("Bottle"))).toEqual(["Choose…", "B-001, lot B-001-lot", "B-002, lot B-002-lot"]);
});

test("a moment that cannot be is refused at its field, and what was typed stays", async () => {
  api.answers["POST /api/events/preview"] = new Refusal(422, "Look again.", { happened_at: "That is still to come." });
  const { user } = show(<EventDialog printer={printer} onClose={() => undefined} />);
  await user.selectOptions(await screen.findByLabelText("What"), "Screen replaced");
  await user.type(screen.getByLabelText("Note"), "New panel");
  expect(await screen.findByText("That is still to come.")).toBeTruthy();
  expect(screen.queryByRole("region", { name: "What it touches" })).toBeNull();
  expect(screen.getByLabelText<HTMLInputElement>("Note").value).toBe("New panel");
});

test("more sets than a screen holds are counted", async () => {
  api.answers["POST /api/events/preview"] = {
    why: "Why.",
    touched: Array.from({ length: 15 }, (_, at) => touched(`S-${100 + at}`, "due")),
  };
  const { user } = show(<EventDialog printer={printer} onClose={() => undefined} />);
  await user.selectOptions(await screen.findByLabelText("What"), "Screen replaced");
  expect(await screen.findByText("and 3 more")).toBeTruthy();
  expect(screen.getAllByText("due")).toHaveLength(12);
});

const held = (changes: object = {}) =>
  ({
    id: "e",
    code: "V-001",
    kind: "film-replaced",
    name: "Film replaced",
    happened_at: "2026-01-15T10:00:00Z",
    bottle: null,
    screen_hours: 2900,
    note: "Creased",
    initials: "RB",
    withdrawn_at: null,
    withdrawn_reason: "",
    ...changes,
  }) as never;

test("an event is withdrawn with a reason, comes back on undo, and stays in sight", async () => {
  api.answers["POST /api/events/e/withdraw"] = { id: "e", code: "V-001" };
  api.answers["POST /api/events/e/restore"] = {};
  const { user } = show(<TimeLine events={[held()]} purpose="Nothing yet." />);
  expect(screen.getByRole("listitem").textContent.replace(/\s/g, " ")).toContain(
    "Film replaced · 2,900 h · Creased · RB",
  );
  await user.click(screen.getByRole("button", { name: "Withdraw Film replaced" }));
  await user.type(screen.getByLabelText("Why"), "Another printer");
  await user.click(screen.getByRole("button", { name: "Withdraw" }));
  await waitFor(() => expect(api.of("POST", "/api/events/e/withdraw")[0]?.body).toEqual({ reason: "Another printer" }));
  await user.click(await screen.findByRole("button", { name: "Undo" }));
  await waitFor(() => expect(api.of("POST", "/api/events/e/restore")).toHaveLength(1));
});

test("a withdrawn one says why and is not withdrawn twice; an empty line says what belongs there", () => {
  const { unmount } = show(
    <TimeLine
      events={[held({ withdrawn_at: "2026-01-16T10:00:00Z", withdrawn_reason: "Another printer" })]}
      purpose="Nothing yet."
    />,
  );
  expect(screen.getByText(/withdrawn: Another printer/)).toBeTruthy();
  expect(screen.queryByRole("button", { name: /^Withdraw/ })).toBeNull();
  unmount();
  show(<TimeLine events={[]} purpose="Note when the film changes." />);
  expect(screen.getByText("Note when the film changes.")).toBeTruthy();
});
