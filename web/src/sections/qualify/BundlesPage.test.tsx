import { screen, waitFor, within } from "@testing-library/react";
import { beforeEach, expect, test } from "vitest";
import { endsWhenStopped, fakeApi, Refusal, show } from "../../testingTools";
import BundlesPage from "./BundlesPage";

const job = (id: string, changes: object = {}) => ({
  id,
  kind: "export-lab",
  state: "running",
  progress: 0.5,
  message: "readings",
  result: null,
  fields: {},
  created_at: "2026-01-21T08:00:00Z",
  ended_at: null,
  ...changes,
});
const table = (name: string, counts: [number, number, number], examples: string[] = []) => ({
  table: name,
  new: counts[0],
  same: counts[1],
  conflicting: counts[2],
  examples,
});
const told = (tables: ReturnType<typeof table>[]) => ({
  new: sum(tables, "new"),
  same: sum(tables, "same"),
  conflicting: sum(tables, "conflicting"),
  tables,
});
const sum = (tables: ReturnType<typeof table>[], of: "new" | "same" | "conflicting") =>
  tables.reduce((all, one) => all + one[of], 0);
let api: ReturnType<typeof fakeApi>;
beforeEach(() => {
  api = fakeApi({
    "POST /api/jobs": job("e", { state: "queued" }),
    "GET /api/jobs/e": job("e"),
    "POST /api/jobs/e/cancel": job("e"),
    "POST /api/bundles": { id: "b", name: "lab.zip", bytes: 9000 },
    "POST /api/bundles/preview": job("p"),
    "POST /api/bundles/import": job("i"),
    "GET /api/jobs/p": job("p", {
      state: "done",
      result: told([table("reading", [12, 3, 0]), table("parameter_set", [0, 2, 0])]),
    }),
  });
});
const shown = () => show(<BundlesPage />, { at: "/qualify/open-formats" });
const text = (name: string) => screen.getByRole("region", { name }).textContent.replace(/\s/g, " ");
async function choose(name = "lab.zip") {
  const drawn = shown();
  await drawn.user.upload(
    screen.getByLabelText(/A lab as ZIP/),
    new File(["PK"], name, { type: name.endsWith("zip") ? "application/zip" : "application/json" }),
  );
  return drawn;
}

test("an export shows its progress, can be stopped, and may be begun again", async () => {
  const { user } = shown();
  await user.click(screen.getByRole("button", { name: "Export the lab" }));
  await waitFor(() =>
    expect(screen.getByRole("progressbar", { name: "Progress of the export" }).getAttribute("aria-valuenow")).toBe(
      "50",
    ),
  );
  expect(api.of("POST", "/api/jobs")[0]!.body).toEqual({ kind: "export-lab" });
  endsWhenStopped(api, "e", job("e"), job("e", { state: "cancelled" }));
  await user.click(screen.getByRole("button", { name: "Stop" }));
  expect(await screen.findByRole("button", { name: "Export the lab" })).toBeTruthy();
  expect(api.of("POST", "/api/jobs/e/cancel")).toHaveLength(1);
});

test("a finished export is saved with a press, and says how much it holds", async () => {
  api.answers["GET /api/jobs/e"] = job("e", {
    state: "done",
    result: { file: "setback-lab.zip", rows: 4210, bytes: 2_340_000 },
  });
  const { user } = shown();
  await user.click(screen.getByRole("button", { name: "Export the lab" }));
  const save = await screen.findByRole("link", { name: "Save setback-lab.zip" });
  expect(save.getAttribute("href")).toBe("/api/exports/setback-lab.zip");
  expect(text("Export")).toContain("2.3 MB");
});

test("an export that failed says why", async () => {
  api.answers["GET /api/jobs/e"] = job("e", { state: "failed", message: "The disk is full." });
  const { user } = shown();
  await user.click(screen.getByRole("button", { name: "Export the lab" }));
  expect(await screen.findByText("The disk is full.")).toBeTruthy();
});

test("a bundle is looked into first: what is new, what is here, and nothing is taken in yet", async () => {
  await choose();
  const preview = await screen.findByRole("table", { name: "What it would do" });
  expect(text("Import")).toContain("12 records new, 5 here already, 0 in conflict.");
  expect(
    within(preview)
      .getAllByRole("row")
      .map((row) => row.textContent),
  ).toEqual(["RecordsNewSameIn conflict", "reading123 "]);
  expect(api.of("POST", "/api/bundles/import")).toHaveLength(0);
});

test("it is taken in when one says so, and told when it is done", async () => {
  api.answers["GET /api/jobs/i"] = job("i", { state: "done", result: told([table("reading", [12, 3, 0])]) });
  const { user } = await choose();
  await user.click(await screen.findByRole("button", { name: "Take in 12 records" }));
  expect(await screen.findByText("■ 12 records taken in.")).toBeTruthy();
  expect(api.of("POST", "/api/bundles/import")[0]!.body).toEqual({ id: "b" });
  expect(screen.queryByRole("table")).toBeNull();
});

test("records that say something else stop it whole, and are named", async () => {
  api.answers["GET /api/jobs/p"] = job("p", { state: "done", result: told([table("reading", [4, 0, 1], ["104R"])]) });
  await choose();
  const take = await screen.findByRole("button", { name: "Take in 4 records" });
  expect(take).toHaveProperty("disabled", true);
  expect(text("Import")).toContain("it is taken in whole or not at all");
  expect(screen.getByRole("table").textContent).toContain("1 104R");
});

test("a bundle that holds nothing new cannot be taken in twice", async () => {
  api.answers["GET /api/jobs/p"] = job("p", { state: "done", result: told([table("reading", [0, 15, 0])]) });
  await choose();
  expect(await screen.findByRole("button", { name: "Nothing is new" })).toHaveProperty("disabled", true);
  expect(screen.queryByRole("table")).toBeNull();
});

test("what is no bundle is refused at once; another file may be chosen", async () => {
  api.answers["POST /api/bundles"] = new Refusal(422, "photo.zip holds no lab.");
  const { user } = await choose("photo.zip");
  expect(await screen.findByText("photo.zip holds no lab.")).toBeTruthy();
  api.answers["POST /api/bundles"] = { id: "b", name: "lab.zip", bytes: 9000 };
  await user.upload(screen.getByLabelText(/A lab as ZIP/), new File(["PK"], "lab.zip", { type: "application/zip" }));
  await screen.findByRole("table", { name: "What it would do" });
  expect(screen.queryByText("photo.zip holds no lab.")).toBeNull();
});

test("a tampered bundle says what does not add up, and offers nothing to take in", async () => {
  api.answers["GET /api/jobs/p"] = job("p", {
    state: "failed",
    message: "S-001 does not carry the hash of its contents.",
  });
  await choose();
  expect(await screen.findByText("S-001 does not carry the hash of its contents.")).toBeTruthy();
  expect(screen.queryByRole("button", { name: /Take in/ })).toBeNull();
});
