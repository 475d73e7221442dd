import { screen, waitFor } from "@testing-library/react";
import { expect, test } from "vitest";
import { DemoMark } from "../../app/DemoMark";
import { fakeApi, Refusal, show } from "../../testingTools";
import BenchPage from "./BenchPage";
import RecordsPage from "./RecordsPage";
import StartPage from "./StartPage";

const demo = (changes: object = {}) => ({ is_demo: false, closes: false, state: "none", address: null, ...changes });

test("the demo is opened beside the lab, and led to once it answers", async () => {
  const api = fakeApi({ "GET /api/demo": demo() });
  api.answers["POST /api/demo/open"] = () => {
    api.answers["GET /api/demo"] = demo({ state: "building" });
    return demo({ state: "building" });
  };
  const { user } = show(<StartPage />);
  await user.click(await screen.findByRole("button", { name: "Open the demo" }));
  expect(await screen.findByRole("button", { name: /Building the demo/ })).toBeTruthy();
  api.answers["GET /api/demo"] = demo({ state: "ready", address: "http://127.0.0.1:4000" });
  const link = await screen.findByRole("link", { name: "Go to the demo" });
  expect(link.getAttribute("href")).toBe("http://127.0.0.1:4000/board");
});

test("a demo that cannot be built or opened says so", async () => {
  const api = fakeApi({ "GET /api/demo": demo({ state: "failed" }) });
  api.answers["POST /api/demo/open"] = new Refusal(409, "This server opens no demo.");
  const { user } = show(<StartPage />);
  expect(await screen.findByText(/could not be built/)).toBeTruthy();
  await user.click(screen.getByRole("button", { name: "Open the demo" }));
  expect(await screen.findByText("This server opens no demo.")).toBeTruthy();
});

test("the demo is marked on every page; one beside a lab is closed and gone", async () => {
  fakeApi({ "GET /api/demo": demo({ is_demo: true, closes: true }), "POST /api/demo/close": demo() });
  const { user } = show(<DemoMark />);
  expect(await screen.findByText("Demo")).toBeTruthy();
  await user.click(screen.getByRole("button", { name: "Close the demo" }));
  expect((await screen.findByRole("alert")).textContent).toContain("closed and gone");
});

test("one's own lab carries no mark", async () => {
  const api = fakeApi({ "GET /api/demo": demo() });
  show(<DemoMark />);
  await waitFor(() => expect(api.of("GET", "/api/demo")).toHaveLength(1));
  expect(screen.queryByText("Demo")).toBeNull();
});

test("a bench of ten fields leads to its first calibration, as whoever set it up", async () => {
  const made = { initials: "RB", printer_id: "p", material_id: "m", bottle_id: "b", finish_route_id: "f" };
  const api = fakeApi({ "POST /api/first-bench": made });
  const { user, place } = show(<BenchPage />);
  await user.type(screen.getByLabelText("What you call it"), "Cormorant");
  await user.type(screen.getByLabelText("Pixel"), "35");
  await user.type(screen.getByLabelText("Plate along X"), "15.3 cm");
  await user.type(screen.getByLabelText("Plate along Y"), "87");
  await user.type(screen.getByLabelText("Name and colour on the bottle"), "Slate 2 grey");
  await user.click(screen.getByRole("radio", { name: "Clear" }));
  await user.type(screen.getByLabelText("Your initials"), "rb");
  await user.click(screen.getByRole("radio", { name: "In water" }));
  await user.click(screen.getByRole("button", { name: "Save and plan the first coupons" }));
  await waitFor(() => expect(place()).toBe("/calibrate/new?material=m&printer=p"));
  const sent = api.of("POST", "/api/first-bench")[0]?.body as object;
  expect(sent).toMatchObject({ plate_x_mm: 153, opacity: "clear", wash: "water", bottle_ml: 1000 });
  expect(Object.keys(sent)).toHaveLength(10);
  expect(localStorage.getItem("setback.technician")).toBe("RB");
});

test("a name that is taken is said at its field, and nothing typed is lost", async () => {
  const api = fakeApi({});
  api.answers["POST /api/first-bench"] = new Refusal(422, "No.", { printer: "“Cormorant” is on the shelf already." });
  const { user } = show(<BenchPage />);
  await user.type(screen.getByLabelText("What you call it"), "Cormorant");
  await user.click(screen.getByRole("button", { name: "Save and plan the first coupons" }));
  expect(await screen.findByText(/is on the shelf already/)).toBeTruthy();
  expect(screen.getByLabelText<HTMLInputElement>("What you call it").value).toBe("Cormorant");
});

const listed = (id: string, changes: object = {}) => ({
  id,
  code: `C-${id}`,
  material: "Slate 2",
  printer: "Cormorant",
  closed_at: null,
  ...changes,
});

test("readings belong to a calibration: the only open one is chosen already", async () => {
  fakeApi({ "GET /api/calibrations": { items: [listed("1"), listed("2", { closed_at: "2026-01-01" })], total: 2 } });
  const { user } = show(<RecordsPage />);
  await user.click(await screen.findByRole("button", { name: "Choose or paste a table" }));
  const template = await screen.findByRole("link", { name: /Template with the coupons that wait/ });
  expect(template.getAttribute("href")).toBe("/api/calibrations/1/sheet-template");
});

test("without a calibration the way to one stands there", async () => {
  fakeApi({ "GET /api/calibrations": { items: [], total: 0 } });
  show(<RecordsPage />);
  expect(await screen.findByRole("link", { name: "Start a calibration" })).toBeTruthy();
});
