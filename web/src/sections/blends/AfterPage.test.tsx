import { screen, waitFor } from "@testing-library/react";
import { beforeEach, expect, test } from "vitest";
import { fakeApi, Refusal, show } from "../../testingTools";
import AfterPage from "./AfterPage";

const result = (changes: object = {}) => ({
  fraction: 0.1667,
  fraction_ci: [0.12, 0.21],
  exposure_doubt_pct: null,
  matters: null,
  warnings: [],
  ...changes,
});
let api: ReturnType<typeof fakeApi>;
beforeEach(() => {
  sessionStorage.clear();
  api = fakeApi({
    "GET /api/test-materials": {
      items: [{ name: "Slate 2", sets: [{ code: "S-001", printer_id: "r", printer: "Cormorant" }] }],
    },
    "POST /api/poured-about": { result: result(), basis: "" },
  });
});
const asked = () => api.of("POST", "/api/poured-about").map((one) => one.body as Record<string, unknown>);
async function poured() {
  const drawn = show(<AfterPage />);
  const { user } = drawn;
  await user.type(screen.getByLabelText("Added"), "40");
  await user.type(screen.getAllByLabelText("±")[0]!, "10");
  await user.type(screen.getByLabelText("to"), "200");
  expect(asked()).toEqual([]);
  await user.type(screen.getAllByLabelText("±")[1]!, "20");
  return drawn;
}

test("nothing is asked before both amounts have their uncertainty, then the fraction comes with its own", async () => {
  await poured();
  expect(await screen.findByText("16.7 %")).toBeTruthy();
  expect(screen.getByText("between 12.0 and 21.0 %")).toBeTruthy();
  expect(asked().at(-1)).toMatchObject({
    poured_ml: 40,
    poured_doubt_ml: 10,
    into_ml: 200,
    into_doubt_ml: 20,
    already: 0,
    base_set: null,
  });
});

test("sets are chosen from the issued ones, and say whether the uncertainty matters", async () => {
  const { user } = await poured();
  api.answers["POST /api/poured-about"] = {
    result: result({ exposure_doubt_pct: 4.2, matters: true }),
    basis: "Window of S-001.",
  };
  await user.selectOptions(screen.getByLabelText("Set in the vat"), "S-001 Slate 2, Cormorant");
  expect(await screen.findByText(/more than a fifth of the window/)).toBeTruthy();
  expect(asked().at(-1)).toMatchObject({ base_set: "S-001", additive_set: null });
});

test("a set that was kept in the form and is superseded since is chosen no longer", async () => {
  const draft = {
    poured: null,
    pouredDoubt: null,
    into: null,
    intoDoubt: null,
    already: 0,
    base: "S-000",
    additive: "",
    times: null,
  };
  sessionStorage.setItem("setback.kept.poured", JSON.stringify(draft));
  await poured();
  await waitFor(() => expect(asked().at(-1)).toMatchObject({ base_set: null }));
});

test("what cannot be poured is refused at its field", async () => {
  api.answers["POST /api/poured-about"] = new Refusal(422, "Look again.", { into_ml: "Give more than was poured." });
  await poured();
  expect(await screen.findByText("Give more than was poured.")).toBeTruthy();
  expect(screen.queryByText("16.7 %")).toBeNull();
});
