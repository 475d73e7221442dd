import { fireEvent, screen, waitFor, within } from "@testing-library/react";
import { beforeEach, expect, test, vi } from "vitest";
import { fakeApi, Refusal, show } from "../testingTools";
import { EventDialog } from "./events/EventDialog";
import { TimeLine } from "./events/TimeLine";
import { FormDialog } from "./fields/FormDialog";
import { Gates } from "./Gates";
import { LabelsDialog } from "./labels/LabelsDialog";
import { SheetDialog } from "./table/SheetDialog";

let api: ReturnType<typeof fakeApi>;
beforeEach(() => {
  api = fakeApi({});
});

test("a gate is cleared by what it asks for, and by nothing else", async () => {
  api.answers["POST /api/prints/p/vat-searched"] = {};
  api.answers["POST /api/prints/q/lift-back"] = new Refusal(409, "J-2 does not wait for that.");
  const gate = (kind: "vat" | "lift", print_id: string, code: string) => ({
    kind,
    print_id,
    code,
    message: `${code} holds it up.`,
  });
  const { user } = show(<Gates gates={[gate("vat", "p", "J-1"), gate("lift", "q", "J-2")]} />);
  await user.click(screen.getByRole("button", { name: "Vat searched, film checked" }));
  expect(await screen.findByText("Vat searched, film checked: noted for J-1.")).toBeTruthy();
  await user.click(screen.getByRole("button", { name: "The lift is back on" }));
  expect(await screen.findByText("J-2 does not wait for that.")).toBeTruthy();
});

const RULES = [
  { key: "screen-replaced", name: "Screen replaced", subject: "printer", derived: false, resets_hours: true },
  {
    key: "vat-topped-up",
    name: "Vat topped up with another material",
    subject: "pair",
    derived: false,
    resets_hours: false,
  },
  { key: "dye-added", name: "Dye added", subject: "bottle", derived: false, resets_hours: false },
  { key: "screen-hours", name: "Many screen hours", subject: "printer", derived: true, resets_hours: false },
];
const touched = (count: number) =>
  Array.from({ length: count }, (_, index) => ({
    set_code: `S-${index}`,
    material: "Slate 2",
    printer: "Gannet",
    layer_height_um: 50,
    effect: "lapse",
  }));
function eventShop(count: number) {
  Object.assign(api.answers, {
    "GET /api/validity-rules": { rules: RULES },
    "GET /api/resins": { items: [{ id: "m", name: "Slate 2" }] },
    "POST /api/events/preview": { why: "Another screen gives other light.", touched: touched(count) },
    "POST /api/events": { event: { id: "e", name: "Screen replaced" }, touched: touched(count) },
  });
}

test("an event says beforehand which sets it touches, and is sent once", async () => {
  eventShop(3);
  const onClose = vi.fn();
  const { user } = show(<EventDialog printer={{ id: "p", name: "Gannet" }} onClose={onClose} />);
  await user.selectOptions(await screen.findByLabelText("What"), "Screen replaced");
  const touches = within(await screen.findByRole("region", { name: "What it touches" }));
  expect(touches.getByText(/It touches 3 sets:/)).toBeTruthy();
  expect(touches.getAllByRole("listitem")).toHaveLength(3);
  expect(screen.getByText("Start again at 0")).toBeTruthy();
  await user.click(screen.getByRole("button", { name: "Record it" }));
  await waitFor(() => expect(onClose).toHaveBeenCalled());
  expect(api.of("POST", "/api/events").map((one) => one.body)).toEqual([
    {
      kind: "screen-replaced",
      printer_id: "p",
      material_id: null,
      bottle_id: null,
      happened_at: null,
      screen_hours: null,
      note: "",
    },
  ]);
  expect(screen.getByText("Screen replaced: recorded, 3 sets touched.")).toBeTruthy();
});

test("many touched sets are counted instead of listed to the end", async () => {
  eventShop(15);
  const { user } = show(<EventDialog printer={{ id: "p", name: "Gannet" }} onClose={() => undefined} />);
  await user.selectOptions(await screen.findByLabelText("What"), "Screen replaced");
  expect(await screen.findByText("and 3 more")).toBeTruthy();
});

test("what happens to a printer is offered for a printer; what follows from counting is not recorded by hand", async () => {
  eventShop(0);
  show(<EventDialog printer={{ id: "p", name: "Gannet" }} onClose={() => undefined} />);
  const names = within(await screen.findByLabelText("What"))
    .getAllByRole("option")
    .map((one) => one.textContent);
  expect(names).toEqual(["Choose…", "Screen replaced", "Vat topped up with another material"]);
});

test("a material with one bottle does not ask which", async () => {
  eventShop(0);
  const { user } = show(
    <EventDialog
      material={{ id: "m", name: "Slate 2", bottles: [{ id: "b", code: "B-001", lot: "SL-1" }] }}
      onClose={() => undefined}
    />,
  );
  await user.selectOptions(await screen.findByLabelText("What"), "Dye added");
  expect(screen.getByLabelText<HTMLSelectElement>("Bottle").value).toBe("b");
  expect(await screen.findByText(/It touches no set./)).toBeTruthy();
});

const event = (changes: object = {}) => ({
  id: "e",
  code: "V-001",
  kind: "screen-replaced",
  name: "Screen replaced",
  happened_at: "2026-01-20T09:00:00Z",
  bottle: null,
  screen_hours: 2900,
  note: "cracked",
  initials: "IM",
  withdrawn_at: null,
  withdrawn_reason: null,
  ...changes,
});

test("an event is withdrawn with a reason and stays in sight", async () => {
  api.answers["POST /api/events/e/withdraw"] = event({ withdrawn_at: "2026-01-21T09:00:00Z" });
  const { user } = show(<TimeLine events={[event()] as never} purpose="" />);
  await user.click(screen.getByRole("button", { name: "Withdraw Screen replaced" }));
  await user.type(screen.getByLabelText("Why"), "the wrong printer");
  await user.click(screen.getByRole("button", { name: "Withdraw" }));
  expect(await screen.findByText("V-001 is withdrawn; what it had lapsed comes back.")).toBeTruthy();
  expect(api.of("POST", "/api/events/e/withdraw")[0]!.body).toEqual({ reason: "the wrong printer" });
});

test("a withdrawn event says why and is not withdrawn again; no event says what events are for", () => {
  const { unmount } = show(
    <TimeLine
      events={[event({ withdrawn_at: "2026-01-21T09:00:00Z", withdrawn_reason: "the wrong printer" })] as never}
      purpose=""
    />,
  );
  expect(screen.getByText(/withdrawn: the wrong printer/)).toBeTruthy();
  expect(screen.queryByRole("button")).toBeNull();
  unmount();
  show(<TimeLine events={[]} purpose="What happens to it stands here." />);
  expect(screen.getByText("What happens to it stands here.")).toBeTruthy();
});

test("labels go on the sheet that lies in the printer, after those already taken off", async () => {
  api.answers["GET /api/label-sheets"] = {
    items: [
      { name: "24", words: "3 × 8", count: 24 },
      { name: "65", words: "5 × 13", count: 65 },
    ],
  };
  const { user } = show(<LabelsDialog title="Labels" href={(paper) => `/labels?${paper}`} onClose={() => undefined} />);
  const link = () => screen.getByText("Make the PDF");
  await screen.findByText("5 × 13");
  await user.selectOptions(screen.getByLabelText("Sheet, A4"), "65");
  const skip = screen.getByLabelText("Labels already taken off");
  await user.clear(skip);
  await user.type(skip, "64");
  expect(link().getAttribute("href")).toBe("/labels?sheet=65&skip=64&outlines=false");
  expect(localStorage.getItem("setback.sheet")).toBe("65");
  await user.clear(skip);
  await user.type(skip, "65");
  expect(screen.getByText("Give 0 to 64.")).toBeTruthy();
  expect(link().getAttribute("href")).toBeNull();
});

const FIELDS = [
  { key: "code", name: "Coupon", needed: true },
  { key: "note", name: "Note", needed: false },
];
function sheet(told: object, kept: object = {}) {
  const send = vi.fn((given: { keep: boolean; mapping: object }) =>
    Promise.resolve({
      fields: FIELDS,
      columns: ["A", "B"],
      suggested: { code: "A" },
      rows: [],
      good: 0,
      kept: false,
      names: {},
      ...(Object.keys(given.mapping).length ? told : {}),
      ...(given.keep ? kept : {}),
    } as never),
  );
  const onClose = vi.fn();
  const shown = show(
    <SheetDialog title="Readings" what="one row for each feature" send={send as never} onClose={onClose} />,
  );
  const text = "A;B\n104R;x\n";
  // happy-dom's files cannot be read as text.
  const file = Object.assign(new File([text], "readings.csv", { type: "text/csv" }), {
    text: () => Promise.resolve(text),
  });
  fireEvent.change(screen.getByLabelText(/^A CSV file/), { target: { files: [file] } });
  return { ...shown, send, onClose };
}

test("a sheet's columns are suggested, its rows are checked, and all of them are taken in", async () => {
  const { user, send, onClose } = sheet({ rows: [{ line: 2, code: "104R", words: null }], good: 1 }, { kept: true });
  expect((await screen.findByLabelText<HTMLSelectElement>("Coupon *")).value).toBe("A");
  await user.click(screen.getByRole("button", { name: "Check the rows" }));
  expect(await screen.findByText(/1 reading can be taken in/)).toBeTruthy();
  await user.click(screen.getByRole("button", { name: "Take in 1" }));
  await waitFor(() => expect(onClose).toHaveBeenCalled());
  expect(send.mock.calls.map(([given]) => given.keep)).toEqual([false, false, true]);
});

test("a table is pasted as it comes from a spreadsheet", async () => {
  const { send } = sheet({});
  await screen.findByLabelText("Coupon *");
  const area = screen.getByLabelText(/Or paste it/);
  fireEvent.paste(area, { clipboardData: { getData: () => "A\tB\n1\t2\n" } });
  await waitFor(() => expect(send.mock.calls.at(-1)?.[0]).toMatchObject({ text: "A\tB\n1\t2\n", mapping: {} }));
  expect(screen.getByPlaceholderText(/A table is here/)).toBeTruthy();
});

test("with a column for each feature only those without a meaning are asked for, and can be given one", async () => {
  const fields = [
    { key: "coupon", name: "Coupon", needed: true },
    ...Array.from({ length: 14 }, (_, at) => ({ key: `wall-${at}`, name: `Wall ${at}`, needed: false })),
  ];
  const columns = ["Code", "wall-0", "first wall"];
  const suggested = { coupon: "Code", "wall-0": "wall-0" };
  const send = vi
    .fn()
    .mockResolvedValue({ columns, fields, suggested, rows: [], good: 0, bad: 0, kept: false, names: {} });
  const { user } = show(<SheetDialog title="Readings" what="" send={send} onClose={vi.fn()} />);
  fireEvent.paste(screen.getByLabelText(/Or paste it/), { clipboardData: { getData: () => "x" } });
  expect(await screen.findByText("2 of 3 columns are matched.")).toBeTruthy();
  expect(screen.queryByLabelText("wall-0")).toBeNull();
  await user.selectOptions(screen.getByLabelText("first wall"), "wall-1");
  expect(screen.getByText("3 of 3 columns are matched.")).toBeTruthy();
  await user.click(screen.getByRole("button", { name: "Check the rows" }));
  expect(send.mock.calls.at(-1)?.[0]).toMatchObject({ mapping: { ...suggested, "wall-1": "first wall" } });
});

test("one row that cannot be read keeps all of them out, and is named", async () => {
  const { user } = sheet({
    rows: [
      { line: 2, code: "104R", words: null },
      { line: 3, code: "999X", words: "There is no coupon 999X." },
    ],
    good: 1,
  });
  await user.click(await screen.findByRole("button", { name: "Check the rows" }));
  expect(await screen.findByText(/nothing is taken in until all can/)).toBeTruthy();
  expect(screen.getByText(/There is no coupon 999X/)).toBeTruthy();
  expect(screen.getByRole<HTMLButtonElement>("button", { name: /^Take in/ }).disabled).toBe(true);
});

test("what was checked under other columns counts no more", async () => {
  const { user } = sheet({ rows: [{ line: 2, code: "104R", words: null }], good: 1 });
  await user.click(await screen.findByRole("button", { name: "Check the rows" }));
  await screen.findByText(/1 reading can be taken in/);
  await user.selectOptions(screen.getByLabelText("Note"), "B");
  expect(screen.queryByText(/can be taken in/)).toBeNull();
  expect(screen.getByRole<HTMLButtonElement>("button", { name: /^Take in/ }).disabled).toBe(true);
});

test("a dialog in which something was entered asks before it goes", async () => {
  const onClose = vi.fn();
  const { user } = show(
    <FormDialog title="A new thing" saving={false} error={null} onSave={vi.fn()} onClose={onClose}>
      <input aria-label="Name" />
    </FormDialog>,
  );
  await user.type(screen.getByLabelText("Name"), "Slate");
  await user.keyboard("{Escape}");
  expect(onClose).not.toHaveBeenCalled();
  await user.click(await screen.findByRole("button", { name: "Go on entering" }));
  expect(screen.getByLabelText<HTMLInputElement>("Name").value).toBe("Slate");
  await user.keyboard("{Escape}");
  await user.click(await screen.findByRole("button", { name: "Discard it" }));
  expect(onClose).toHaveBeenCalledOnce();
});

test("a dialog in which nothing was entered just closes", async () => {
  const onClose = vi.fn();
  const { user } = show(
    <FormDialog title="A new thing" saving={false} error={null} onSave={vi.fn()} onClose={onClose}>
      <input aria-label="Name" />
    </FormDialog>,
  );
  await user.keyboard("{Escape}");
  expect(onClose).toHaveBeenCalledOnce();
});
