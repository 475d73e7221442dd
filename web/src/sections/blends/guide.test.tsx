import { screen, waitFor, within } from "@testing-library/react";
import { Route, Routes } from "react-router";
import { expect, test } from "vitest";
import { fakeApi, Refusal, show } from "../../testingTools";
import GuidePage from "./GuidePage";

const step = (key: string, words: string, changes: object = {}) => ({
  key,
  words,
  caution: null,
  minutes: null,
  records: null,
  leads: null,
  done_at: null,
  initials: null,
  noted: null,
  ...changes,
});
const guide = (changes: object = {}) => ({
  key: "leak",
  name: "A leak or a spill",
  purpose: "Off the screen before any light.",
  printer_id: "g",
  printer: "Gannet",
  steps: [
    step("power-off", "Power off first.", { done_at: "2026-01-21T08:00:00Z", initials: "RB" }),
    step("blot", "Blot the screen.", { caution: "Flat, and away from the hand." }),
    step("waste", "Cure cloths solid.", { minutes: 30 }),
  ],
  next: "blot",
  ...changes,
});
const page = () =>
  show(
    <Routes>
      <Route path="/printers/:id/guides/:key" element={<GuidePage />} />
    </Routes>,
    { at: "/printers/g/guides/leak" },
  );
const PATH = "/api/printers/g/guides/leak";

test("only the next step can be ticked; its caution stands where it can hurt", async () => {
  const api = fakeApi({ [`GET ${PATH}`]: guide(), [`POST ${PATH}/steps/blot`]: guide() });
  const { user } = page();
  const now = (await screen.findByText("Blot the screen.")).closest("li")!;
  expect(now.getAttribute("aria-current")).toBe("step");
  expect(within(now).getByText("Flat, and away from the hand.")).toBeTruthy();
  expect(screen.getAllByRole("button", { name: "Done" })).toHaveLength(1);
  await user.click(within(now).getByRole("button", { name: "Done" }));
  await waitFor(() => expect(api.of("POST", `${PATH}/steps/blot`)).toHaveLength(1));
  await user.click(screen.getByRole("button", { name: "Undo" }));
  await waitFor(() => expect(api.of("POST", `${PATH}/steps/power-off/undo`)).toHaveLength(1));
});

test("a step that takes time has its timer; what somebody else did meanwhile is told", async () => {
  const api = fakeApi({
    [`GET ${PATH}`]: guide({ next: "waste" }),
    "POST /api/timers": {},
    [`POST ${PATH}/steps/waste`]: new Refusal(409, "This step is done already."),
  });
  const { user } = page();
  await user.click(await screen.findByRole("button", { name: /Timer, 30/ }));
  await waitFor(() =>
    expect(api.of("POST", "/api/timers")[0]!.body).toMatchObject({ seconds: 1800, place: "/printers/g/guides/leak" }),
  );
  await user.click(screen.getByRole("button", { name: "Done" }));
  expect(await screen.findByText("This step is done already.")).toBeTruthy();
});

test("with all done it ends and leads back to the vat", async () => {
  const done = { done_at: "2026-01-21T08:00:00Z", initials: "RB" };
  fakeApi({
    [`GET ${PATH}`]: guide({
      next: null,
      steps: [step("film", "Change the film.", { ...done, records: "film-replaced", noted: "The new film is noted." })],
    }),
    [`POST ${PATH}/end`]: guide(),
  });
  const { user, place } = page();
  expect(await screen.findByText(/The new film is noted/)).toBeTruthy();
  expect(screen.queryByRole("button", { name: "Undo" })).toBeNull();
  await user.click(screen.getByRole("button", { name: "All done" }));
  await waitFor(() => expect(place()).toBe("/blend/vat/g"));
});
