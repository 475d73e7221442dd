import { cleanup, screen, within } from "@testing-library/react";
import userEvent from "@testing-library/user-event";
import { beforeEach, expect, test, vi } from "vitest";
import { show } from "../../testingTools";
import * as files from "./csv";
import { DataTable, type Column } from "./DataTable";

type Row = { name: string; left: number | null };
const ROWS: Row[] = [
  { name: "Slate 2", left: 730 },
  { name: "Hullform", left: 61 },
  { name: "Tideglass", left: null },
];
const COLUMNS: Column<Row>[] = [
  { name: "Name", value: (row) => row.name },
  { name: "Left", value: (row) => row.left, number: true },
];
const shown = () =>
  within(screen.getByRole("table"))
    .getAllByRole("row")
    .slice(1)
    .map((row) => row.textContent);

let place: () => string | null;
beforeEach(() => {
  place = show(<DataTable name="Resins" rows={ROWS} columns={COLUMNS} id={(row) => row.name} />).place;
});

test("rows stand as given until a head is pressed, then up, then down, then as given again", async () => {
  const head = () => within(screen.getByRole("columnheader", { name: /Name/ })).getByRole("button");
  const given = ["Slate 2730", "Hullform61", "Tideglass"];
  expect(shown()).toEqual(given);
  await userEvent.click(head());
  expect(shown()).toEqual(["Hullform61", "Slate 2730", "Tideglass"]);
  await userEvent.click(head());
  expect(shown()).toEqual(["Tideglass", "Slate 2730", "Hullform61"]);
  await userEvent.click(head());
  expect(shown()).toEqual(given);
});

test("numbers sort as numbers", async () => {
  await userEvent.click(within(screen.getByRole("columnheader", { name: /Left/ })).getByRole("button"));
  const left = shown().map((row) => row!.replace(/^\D+2?/, ""));
  expect(left.filter(Boolean).indexOf("61")).toBeLessThan(left.filter(Boolean).indexOf("730"));
});

test("a filter looks into every column, whatever the case", async () => {
  const filter = screen.getByRole("searchbox", { name: "Filter Resins" });
  await userEvent.type(filter, "HULL");
  expect(shown()).toEqual(["Hullform61"]);
  await userEvent.clear(filter);
  await userEvent.type(filter, "730");
  expect(shown()).toEqual(["Slate 2730"]);
});

test("what is exported is what is shown", async () => {
  const save = vi.spyOn(files, "save").mockImplementation(() => undefined);
  await userEvent.type(screen.getByRole("searchbox"), "glass");
  await userEvent.click(screen.getByRole("button", { name: "Export CSV" }));
  expect(save).toHaveBeenCalledOnce();
  const [name, text] = save.mock.calls[0]!;
  expect(name).toBe("Resins.csv");
  expect(text).toContain("Tideglass");
  expect(text).not.toContain("Hullform");
});

test("what is filtered and sorted stays in the address", async () => {
  await userEvent.type(screen.getByRole("searchbox"), "glass");
  await userEvent.click(within(screen.getByRole("columnheader", { name: /Left/ })).getByRole("button"));
  expect(place()).toBe("/?filter=glass&sort=Left");
  await userEvent.clear(screen.getByRole("searchbox"));
  expect(place()).toBe("/?sort=Left");
});

test("two tables of one page keep what is filtered apart", async () => {
  cleanup();
  const row = ROWS[0]!;
  const shown = show(
    <>
      <DataTable name="Left over" part="left" rows={[row]} columns={COLUMNS} id={(one) => one.name} />
      <DataTable name="Thrown away" part="away" rows={[row]} columns={COLUMNS} id={(one) => one.name} />
    </>,
  );
  await userEvent.type(screen.getByRole("searchbox", { name: "Filter Thrown away" }), "zzz");
  expect(shown.place()).toBe("/?away-filter=zzz");
  expect(screen.getByText("Nothing matches “zzz”.")).toBeTruthy();
  expect(screen.getAllByText(row.name)).toHaveLength(1);
});
