import { screen, waitFor, within } from "@testing-library/react";
import { afterEach, beforeEach, expect, test } from "vitest";
import { KeyHelp } from "../../app/KeyHelp";
import { SECTIONS } from "../../app/sections";
import { helpAt } from "../../app/help";
import { day, moment } from "../../shared/format";
import { GLOSSARY } from "../../shared/glossary";
import { USUAL, followLab, money, signOfUnit } from "../../shared/labForm";
import { askedAnew, fakeApi, Refusal, show } from "../../testingTools";
import ActivityPage from "./ActivityPage";
import GlossaryPage from "./GlossaryPage";
import SettingsPage from "./SettingsPage";

const SETTINGS = {
  name: "",
  currency: "",
  date_form: "29 Nov 2026",
  temperature_unit: "°C",
  length_unit: "mm",
  stress_unit: "MPa",
  decimal_mark: ".",
  band_c: 2,
  low_stock_ml: 100,
  label_sheet: "24",
  base_address: "",
  backup_folder: "",
  version: 0,
};
const PLACE = {
  address: "http://127.0.0.1:8350",
  address_from: "usual",
  reaches_others: false,
  copies_folder: "/lab-copies",
};
let api: ReturnType<typeof fakeApi>;
beforeEach(() => {
  api = fakeApi({
    "GET /api/lab-settings": SETTINGS,
    "GET /api/lab-settings/place": PLACE,
    "GET /api/label-sheets": { items: [{ name: "24", words: "24 labels", count: 24 }] },
    "GET /api/validity-rules": { rules: [], own: [] },
    "GET /api/technicians": { items: [{ id: "t", initials: "IM", retired_at: null }] },
    "GET /api/printers": { items: [{ id: "p", name: "Cormorant" }] },
    "GET /api/climate-materials": { items: [{ id: "m", name: "Slate 2" }] },
  });
});
afterEach(() => followLab(USUAL));

test("the lab is named, and how days and prices are written follows at once", async () => {
  api.answers["PUT /api/lab-settings"] = ({ body }: { body: object }) => ({ ...body, version: 1 });
  const { user } = show(<SettingsPage />);
  await user.type(await screen.findByLabelText("Name of the lab"), "Skerry Point");
  await user.type(screen.getByLabelText("Currency"), "kr");
  await user.selectOptions(screen.getByLabelText("Days are written"), "2026-11-29");
  await user.click(screen.getByRole("button", { name: "Save" }));
  await waitFor(() => expect(api.of("PUT", "/api/lab-settings")[0]?.body).toMatchObject({ name: "Skerry Point" }));
  await waitFor(() => expect(day("2026-01-05T09:00:00Z")).toBe("2026-01-05"));
  expect(money(2.5)).toBe("kr\u20092.50");
  expect(signOfUnit("/l")).toBe("kr/l");
  expect(signOfUnit("mm")).toBe("mm");
});

test("an address or folder that is none is said at its field, and what was typed stays", async () => {
  api.answers["PUT /api/lab-settings"] = new Refusal(422, "No.", { backup_folder: "There is no such folder." });
  const { user } = show(<SettingsPage />);
  expect(await screen.findByText(/only this machine can follow them, no phone/)).toBeTruthy();
  await user.type(screen.getByLabelText("Second folder for the daily copy"), "/mnt/stick");
  await user.click(screen.getByRole("button", { name: "Save" }));
  expect(await screen.findByText("There is no such folder.")).toBeTruthy();
  expect(screen.getByLabelText<HTMLInputElement>("Second folder for the daily copy").value).toBe("/mnt/stick");
});

test("what is typed stays while somebody else saves, and the save says what it was opened on", async () => {
  const { user } = show(<SettingsPage />);
  await user.type(await screen.findByLabelText("Name of the lab"), "Skerry Point");
  api.answers["GET /api/lab-settings"] = { ...SETTINGS, currency: "kr", version: 3 };
  api.answers["PUT /api/lab-settings"] = new Refusal(409, "IM saved these settings meanwhile.");
  askedAnew();
  await waitFor(() => expect(api.of("GET", "/api/lab-settings").length).toBe(2));
  expect(screen.getByLabelText<HTMLInputElement>("Name of the lab").value).toBe("Skerry Point");
  await user.click(screen.getByRole("button", { name: "Save" }));
  expect(await screen.findByText("IM saved these settings meanwhile.")).toBeTruthy();
  expect(api.of("PUT", "/api/lab-settings")[0]?.body).toMatchObject({ name: "Skerry Point", version: 0 });
});

test("a day in each form, with its year where it is another one", () => {
  const now = new Date();
  const other = `${now.getFullYear() - 1}-03-04T09:05:00`;
  followLab({ ...USUAL, date_form: "Nov 29, 2026" });
  expect(day(other)).toBe(`Mar 4, ${now.getFullYear() - 1}`);
  expect(moment(`${now.getFullYear()}-03-04T09:05:00`)).toBe("Mar 4, 09:05");
  followLab(USUAL);
  expect(moment(other)).toBe(`4 Mar ${now.getFullYear() - 1}, 09:05`);
});

const done = (code: string, at: string, changes: object = {}) => ({
  kind: "reading",
  what: "coupon read",
  code,
  at,
  by: "IM",
  title: "Slate 2 on Cormorant",
  detail: "2.4 s",
  page: `/coupons/${code}`,
  ...changes,
});
const activity = (items: object[], next_before: string | null = null) => ({
  items,
  kinds: { reading: "coupon read", print: "printed" },
  next_before,
});

test("work stands under its day; what is new since one was here is marked and can be asked for alone", async () => {
  localStorage.setItem("setback.was-here", "2026-01-21T07:00:00.000Z");
  api.answers["GET /api/activity"] = activity([
    done("143E", "2026-01-21T08:01:00Z"),
    done("142C", "2026-01-20T08:00:00Z", { by: null, page: null }),
  ]);
  const { user } = show(<ActivityPage />);
  const first = within(await screen.findByRole("region", { name: "21 Jan 2026" }));
  expect(first.getByRole("link", { name: "143E" }).getAttribute("href")).toBe("/coupons/143E");
  expect(first.getByText("(new)")).toBeTruthy();
  expect(within(screen.getByRole("region", { name: "20 Jan 2026" })).queryByText("(new)")).toBeNull();
  await user.click(screen.getByRole("checkbox", { name: /since I was last here/ }));
  await waitFor(() =>
    expect(api.of("GET", "/api/activity").at(-1)?.query).toMatchObject({ since: "2026-01-21T07:00:00Z" }),
  );
});

test("it is narrowed by kind, person, material and printer, in the address; earlier pages follow", async () => {
  api.answers["GET /api/activity"] = ({ query }: { query: Record<string, string> }) =>
    query.before
      ? activity([done("101A", "2026-01-01T08:00:00Z")])
      : activity([done("143E", "2026-01-21T08:00:00Z")], "x");
  const { user } = show(<ActivityPage />, { at: "/lab/activity?by=IM" });
  await screen.findByText("143E");
  await user.selectOptions(screen.getByRole("combobox", { name: "all work" }), "print");
  await waitFor(() =>
    expect(api.of("GET", "/api/activity").at(-1)?.query).toMatchObject({ by: "IM", kind: "print", before: "" }),
  );
  await user.click(await screen.findByRole("button", { name: "Show earlier ones" }));
  expect(await screen.findByText("101A")).toBeTruthy();
});

test("nothing done yet says what will stand there; nothing found leads back to all", async () => {
  api.answers["GET /api/activity"] = activity([]);
  const { user } = show(<ActivityPage />, { at: "/lab/activity?kind=print" });
  await user.click(await screen.findByRole("button", { name: "Show all" }));
  expect(await screen.findByText(/so that nobody has to ask what happened/)).toBeTruthy();
});

test("every word has a sentence and a drawing", () => {
  const { container } = show(<GlossaryPage />);
  const words = Object.values(GLOSSARY);
  expect(words.length).toBeGreaterThanOrEqual(20);
  expect(container.querySelectorAll("article svg *").length).toBeGreaterThan(2 * words.length);
  for (const { meaning } of words) expect(screen.getByText(meaning)).toBeTruthy();
});

test("every section has help of its own, with steps and words", () => {
  for (const { path } of SECTIONS) expect(helpAt(path)?.task.length).toBeGreaterThan(0);
  show(<KeyHelp show onClose={() => undefined} />, { at: "/board" });
  const help = within(screen.getByRole("dialog", { name: "What can I print with, and what needs me today?" }));
  expect(help.getByText("lapsed")).toBeTruthy();
  expect(help.getByText("Temperature band")).toBeTruthy();
  expect(help.getByRole("link", { name: "All words" })).toBeTruthy();
});
