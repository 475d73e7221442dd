import { screen, waitFor, within } from "@testing-library/react";
import { beforeEach, expect, test } from "vitest";
import { endsWhenStopped, fakeApi, Refusal, show } from "../../testingTools";
import ImportPage from "./ImportPage";

const seen = (changes: object = {}) => ({
  columns: ["stamp", "air", "rh"],
  rows: [
    ["2026-01-05 08:00", "6.4", "71"],
    ["2026-01-05 08:05", "6.5", "71"],
  ],
  delimiter: ",",
  encoding: "utf-8",
  header_line: 1,
  time_column: "stamp",
  date_column: null,
  temp_columns: ["air"],
  humidity_column: "rh",
  fahrenheit: false,
  date_order: "ymd",
  notices: [],
  ...changes,
});
const file = (changes: object = {}) => ({
  id: "f",
  name: "shed.csv",
  bytes: 1200,
  imported_at: null,
  seen: seen(changes),
});
const probes = {
  items: [
    { id: "k1", code: "K-001", name: "Shed wall", place: "room" },
    { id: "k2", code: "K-002", name: "Cormorant chamber", place: "chamber air" },
  ],
};
const job = (changes: object = {}) => ({
  id: "j",
  kind: "probe-import",
  state: "running",
  progress: 0.4,
  message: "4,000 rows read",
  result: null,
  fields: {},
  created_at: "2026-01-21T08:00:00Z",
  ended_at: null,
  ...changes,
});
const result = (changes: object = {}) => ({
  rows: 288,
  new: 280,
  known: 8,
  double: 0,
  left_out: 0,
  examples: [],
  gaps: [],
  gap_count: 0,
  probe_id: "k1",
  ...changes,
});
let api: ReturnType<typeof fakeApi>;
beforeEach(() => {
  api = fakeApi({
    "GET /api/file-limits": { photo_bytes: 25e6, log_bytes: 200e6 },
    "GET /api/probes": probes,
    "POST /api/probe-files": file(),
    "GET /api/probe-files/f": file(),
    "POST /api/probes/k1/imports": job({ state: "queued" }),
    "GET /api/jobs/j": job(),
  });
});
const csv = (text = "stamp,air,rh\n") => new File([text], "shed.csv", { type: "text/csv" });
const text = (name: string) => screen.getByRole("region", { name }).textContent.replace(/\s/g, " ");
async function chosen(at = "/climate/import?file=f&probe=k1") {
  const drawn = show(<ImportPage />, { at });
  await screen.findByRole("region", { name: "Columns" });
  return drawn;
}
const begin = () => screen.getByRole("button", { name: "Import shed.csv" });

test("a file is looked into before anything is imported, and the address keeps it", async () => {
  const { user, place } = show(<ImportPage />, { at: "/climate/import?probe=k1" });
  expect(screen.getByText(/nothing is imported until you confirm/)).toBeTruthy();
  await waitFor(() => expect(screen.getByLabelText<HTMLInputElement>("File of the logger").disabled).toBe(false));
  await user.upload(screen.getByLabelText("File of the logger"), csv());
  await screen.findByRole("region", { name: "Columns" });
  // Once a file is there the hint is gone: after an import it would be untrue.
  expect(screen.queryByText(/nothing is imported until you confirm/)).toBeNull();
  expect(api.sent.find((one) => one.method === "POST")!.query).toEqual({ name: "shed.csv" });
  expect(place()).toBe("/climate/import?probe=k1&file=f");
  expect(api.of("POST", "/api/probes/k1/imports")).toHaveLength(0);
  expect(screen.getByRole("link", { name: "Log" }).getAttribute("aria-current")).toBe("page");
});

test("a file too large is refused before it is sent, with what to do", async () => {
  const { user } = show(<ImportPage />, { at: "/climate/import" });
  await waitFor(() => expect(api.of("GET", "/api/file-limits")).toHaveLength(1));
  const large = csv();
  Object.defineProperty(large, "size", { value: 250e6 });
  await waitFor(() => expect(screen.getByLabelText<HTMLInputElement>("File of the logger").disabled).toBe(false));
  await user.upload(screen.getByLabelText("File of the logger"), large);
  expect(
    await screen.findByText("shed.csv has 250 MB. Files of up to 200 MB are taken: split it by year."),
  ).toBeTruthy();
  expect(api.of("POST", "/api/probe-files")).toHaveLength(0);
});

test("a file that is no table is refused in the server's words", async () => {
  api.answers["POST /api/probe-files"] = new Refusal(422, "This is no table: no line holds names.");
  const { user } = show(<ImportPage />, { at: "/climate/import" });
  await waitFor(() => expect(screen.getByLabelText<HTMLInputElement>("File of the logger").disabled).toBe(false));
  await user.upload(screen.getByLabelText("File of the logger"), csv());
  expect(await screen.findByText("This is no table: no line holds names.")).toBeTruthy();
});

test("columns are proposed as they were recognised, beside the first rows", async () => {
  await chosen();
  await waitFor(() => expect(screen.getByLabelText("Into the log of")).toHaveProperty("value", "k1"));
  expect(screen.getByLabelText("Temperature")).toHaveProperty("value", "air");
  expect(screen.getByLabelText("Humidity")).toHaveProperty("value", "rh");
  expect(screen.getByLabelText("Time")).toHaveProperty("value", "stamp");
  const rows = within(screen.getByRole("table", { name: "First rows" })).getAllByRole("row");
  expect(rows.map((row) => [...row.children].map((cell) => cell.textContent))).toEqual([
    ["stamp", "air", "rh"],
    ["2026-01-05 08:00", "6.4", "71"],
    ["2026-01-05 08:05", "6.5", "71"],
  ]);
});

test("which of two temperatures is meant is asked, and what was noticed stands above", async () => {
  api.answers["GET /api/probe-files/f"] = file({
    temp_columns: ["air", "resin"],
    columns: ["stamp", "air", "resin"],
    humidity_column: null,
    notices: ["Day and month may be the other way round."],
  });
  const { user } = await chosen();
  expect(screen.getByText("Day and month may be the other way round.")).toBeTruthy();
  expect(begin()).toHaveProperty("disabled", true);
  await user.selectOptions(screen.getByLabelText("Temperature"), "resin");
  expect(begin()).toHaveProperty("disabled", false);
});

test("an import shows how far it is and can be stopped", async () => {
  const { user } = await chosen();
  await user.click(begin());
  await waitFor(() =>
    expect(screen.getByRole("progressbar", { name: "Progress of the import" }).getAttribute("aria-valuenow")).toBe(
      "40",
    ),
  );
  expect(screen.getByText("4,000 rows read")).toBeTruthy();
  endsWhenStopped(api, "j", job(), job({ state: "cancelled" }));
  await user.click(screen.getByRole("button", { name: "Stop" }));
  expect(await screen.findByText("Stopped as asked. Nothing was kept.")).toBeTruthy();
  expect(api.of("POST", "/api/jobs/j/cancel")).toHaveLength(1);
  expect(api.of("POST", "/api/probes/k1/imports")[0]!.body).toMatchObject({
    file_id: "f",
    mapping: {
      temp_column: "air",
      time_column: "stamp",
      fahrenheit: false,
      leave_out_unreadable: false,
      leave_out_jumps: false,
    },
  });
});

test("what can be left out is offered by what was refused, not by its words", async () => {
  api.answers["GET /api/jobs/j"] = job({
    state: "failed",
    message: "3 rows: no numbers.",
    fields: { leave_out_unreadable: "3 rows: no numbers." },
  });
  const { user } = await chosen();
  await user.click(begin());
  await screen.findByText("3 rows: no numbers.");
  expect(screen.queryByLabelText(/jump as air cannot/)).toBeNull();
  await user.click(screen.getByLabelText("Leave out rows that cannot be read"));
  api.answers["GET /api/jobs/j"] = job({ state: "done", result: result({ left_out: 3, examples: ["line 7: “--”"] }) });
  await user.click(begin());
  await screen.findByRole("region", { name: "Imported" });
  expect(api.of("POST", "/api/probes/k1/imports").at(-1)!.body).toMatchObject({
    mapping: { leave_out_unreadable: true, leave_out_jumps: false },
  });
  expect(text("Imported")).toContain("3 rows left out: line 7: “--”.");
});

test("readings that jump are another thing to leave out; a broken table is neither", async () => {
  api.answers["GET /api/jobs/j"] = job({
    state: "failed",
    message: "1 reading.",
    fields: { leave_out_jumps: "1 reading." },
  });
  const { user, unmount } = await chosen();
  await user.click(begin());
  expect(await screen.findByLabelText("Leave out implausibly fast jumps")).toBeTruthy();
  unmount();
  api.answers["GET /api/jobs/j"] = job({ state: "failed", message: "Line 9 cannot be read as a table." });
  const again = await chosen();
  await again.user.click(begin());
  await screen.findByText("Line 9 cannot be read as a table.");
  expect(screen.queryByRole("checkbox")).toBeNull();
});

test("what is wrong with a column stands at that column", async () => {
  const said = "Line 12 has the date 01/27/2026, which is not day first.";
  api.answers["GET /api/jobs/j"] = job({ state: "failed", message: said, fields: { date_order: said } });
  const { user } = await chosen();
  await user.click(begin());
  await waitFor(() => expect(screen.getByLabelText("Order of the date").closest("div")!.textContent).toContain(said));
  expect(screen.queryByRole("checkbox")).toBeNull();
});

test("what came of it is counted: new, known, doubled, gaps; and the log is one step away", async () => {
  api.answers["GET /api/jobs/j"] = job({
    state: "done",
    result: result({
      double: 1,
      gap_count: 2,
      gaps: [
        ["2026-01-06T02:00:00Z", "2026-01-06T05:00:00Z"],
        ["2026-01-07T02:00:00Z", "2026-01-07T03:00:00Z"],
      ],
    }),
  });
  const { user } = await chosen();
  await user.click(begin());
  expect(await screen.findByText("■ 280 samples of shed.csv are in the log.")).toBeTruthy();
  expect(text("Imported")).toContain(
    "288 rows read.8 samples were in the log already and stay as they are.1 row gave a second value for one second; the first counts.2 gaps; the longest from 6 Jan",
  );
  expect(screen.getByRole("link", { name: "Look at the log" }).getAttribute("href")).toBe(
    "/climate?probe=k1&span=month",
  );
});

test("a field the server refuses says so at its place", async () => {
  api.answers["POST /api/probes/k1/imports"] = new Refusal(422, "No such zone.", {
    time_zone: "There is no time zone Shed/Wall.",
  });
  const { user } = await chosen();
  await user.clear(screen.getByLabelText("Time zone of the logger"));
  await user.type(screen.getByLabelText("Time zone of the logger"), "Shed/Wall");
  await user.click(begin());
  expect(await screen.findByText("There is no time zone Shed/Wall.")).toBeTruthy();
  expect(screen.getByLabelText("Time zone of the logger")).toHaveProperty("value", "Shed/Wall");
});
