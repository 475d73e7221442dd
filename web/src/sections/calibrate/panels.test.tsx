import { screen, waitFor, within } from "@testing-library/react";
import { beforeEach, expect, test, vi } from "vitest";
import { fakeApi, Refusal, show } from "../../testingTools";
import { DecidePanel } from "./DecidePanel";
import { Evidence } from "./Evidence";
import { arm, calibration, card, foundWindow, prediction } from "./fixtures";
import { IssuePanel } from "./IssuePanel";
import { Predicted, predictionAt } from "./Predicted";
import { PreparePanel } from "./PreparePanel";
import { Trail } from "./Trail";

let api: ReturnType<typeof fakeApi>;
beforeEach(() => {
  api = fakeApi({});
});

test("the trail says where the work stands; what may be left out counts only when it was done", () => {
  show(<Trail stage="refine" done={["first-layer"]} step="refine" onStep={() => undefined} />);
  const steps = within(screen.getByRole("list", { name: "Steps" }))
    .getAllByRole("listitem")
    .map((one) => [one.textContent, one.className]);
  expect(steps).toEqual([
    ["Depth", "ahead"],
    ["First layer", "done"],
    ["Range", "done"],
    ["Refine", "here"],
    ["Decide", "ahead"],
    ["Confirm", "ahead"],
    ["Issue", "ahead"],
  ]);
});

test("what was confirmed was decided on before, and a click goes to a step", async () => {
  const onStep = vi.fn();
  const { user } = show(<Trail stage="decide" done={["confirm"]} step="issue" onStep={onStep} />);
  expect(screen.getByText("Decide").closest("li")!.className).toBe("done");
  await user.click(screen.getByText("Depth"));
  expect(onStep).toHaveBeenCalledWith("depth");
});

const decide = (window: object | null, changes: object = {}, chosen: number | null = 2.9) => {
  const handlers = { onPolicy: vi.fn(), onChoose: vi.fn(), onStep: vi.fn(), onDialog: vi.fn() };
  return {
    ...show(
      <DecidePanel
        calibration={calibration(changes)}
        arm={arm({ window })}
        policy="centre"
        chosen={chosen}
        {...handlers}
      />,
    ),
    ...handlers,
  };
};

test("each school offers its exposure on the printer's step, with its reason; what cannot be offered says why", async () => {
  const { user, onPolicy, onStep } = decide(foundWindow());
  expect(screen.getByRole<HTMLInputElement>("radio", { name: /Centre/ }).checked).toBe(true);
  expect(screen.getByRole("radio", { name: /Centre.*98.%.hold/ })).toBeTruthy();
  const safe = screen.getByRole<HTMLInputElement>("radio", { name: /Support-safe/ });
  expect(safe.disabled).toBe(true);
  expect(screen.getByText("no support tips were read")).toBeTruthy();
  await user.click(screen.getByRole("radio", { name: /Hardest/ }));
  expect(onPolicy).toHaveBeenCalledWith("hardest-in-tolerance");
  await user.click(screen.getByRole("button", { name: /^Choose 2\.9.s and confirm/ }));
  expect(onStep).toHaveBeenCalledWith("confirm");
});

test("nominal size that is not offered is told apart from no size at all", () => {
  const policies = { "size-true": null, centre: 2.9, "support-safe": null, "hardest-in-tolerance": null };
  const { unmount } = decide(foundWindow({ policies }));
  expect(screen.getByText("nothing printed gives nominal size with the chance that is needed")).toBeTruthy();
  unmount();
  decide(foundWindow({ policies, lanes: {} }));
  expect(screen.getByText("no sizes were measured")).toBeTruthy();
});

test("a provisional window is looked at and not gone on with", () => {
  decide(foundWindow({ provisional: true }));
  expect(screen.getByRole<HTMLButtonElement>("button", { name: /and confirm$/ }).disabled).toBe(true);
  expect(screen.getByText(/A provisional window is not issued on/)).toBeTruthy();
});

test.each([
  [null, /Nothing is read yet/],
  [foundWindow({ window: null, policies: null, decision: "more" }), /No exposure is offered yet: 90.% are asked for/],
  [foundWindow({ policies: null, decision: "narrow" }), /too narrow to settle/],
  [foundWindow({ policies: null, decision: "more", missing_lanes: ["tips"] }), /of which nothing is known yet/],
])("without an offer the way leads back to what to print", async (window, said) => {
  const { user, onStep } = decide(window);
  expect(screen.getByText(said)).toBeTruthy();
  await user.click(screen.getByRole("button", { name: "What to print next" }));
  expect(onStep).toHaveBeenCalledWith("refine");
});

test("without an offer an exposure may be chosen all the same, and is issued outside an offer", async () => {
  const window = foundWindow({ policies: null, decision: "more" });
  const { user, onChoose, unmount } = decide(window, {}, null);
  await user.click(screen.getByRole("button", { name: "Choose an exposure all the same…" }));
  expect(onChoose).toHaveBeenCalledWith(2.6);
  unmount();
  const { onStep } = decide(window);
  expect(screen.getByText(/such a set never qualifies/)).toBeTruthy();
  await user.click(screen.getByRole("button", { name: /^Issue 2\.9.s outside an offer/ }));
  expect(onStep).toHaveBeenCalledWith("issue");
});

test("an exposure moved out of the offer says its chance beside what is asked for", () => {
  decide(foundWindow({ predictions: [prediction(2.9, { p: 0.62, offered: false })] }));
  expect(screen.getByText(/not offered: all requirements hold with 62.%, 90.% are asked for/)).toBeTruthy();
});

test("what is expected carries a tilde and its interval, what is set does not", () => {
  show(<Predicted at={prediction(2.9) as never} calibration={calibration()} arm={arm()} />);
  const cells = Object.fromEntries(
    within(screen.getByRole("table"))
      .getAllByRole("row")
      .map((row) => [...row.children].map((cell) => cell.textContent.replace(/\s/g, " "))),
  );
  expect(cells).toEqual({
    "Edge growth": "~+29 µm(+23 to +35)",
    "0.42 mm tip holds": "~97 %(94 to 99)",
    "Wall sizes that stand": "~9.6 of 10(9.1 to 9.9)",
    "Slot sizes open": "~5.4 of 10(5.0 to 6.0)",
    "Margin to underexposure": "~24 %(17 to 32)",
    "Margin to overexposure": "~28 %(15 to 41)",
    "Base layers": "4 × 24 s",
    "Rest before exposure": "1 s",
  });
});

test("a prediction is the one nearest to where the line stands", () => {
  expect(predictionAt(foundWindow(), 3.5)!.exposure_s).toBe(3.6);
  expect(predictionAt(foundWindow(), null)).toBeUndefined();
});

test("what the evidence lacks is said with what to print", () => {
  const window = foundWindow({
    beyond_ladder: ["walls", "tips"],
    print_direction: ["shorter"],
    open_side: "upper",
    warnings: [{ code: "contradiction", message: "103N says otherwise." }],
  });
  show(<Evidence arm={arm({ window, coupons: [card({ findings: ["lost on one side only"] })] })} />);
  expect(screen.getByText(/walls and tips lanes end outside what was printed.*print shorter/)).toBeTruthy();
  expect(screen.getByText(/Nothing limits the window from above yet/)).toBeTruthy();
  expect(screen.getByText("103N says otherwise.").closest("li")!.className).toBe("trouble");
  expect(screen.getByText("103N: lost on one side only").closest("li")!.className).toBe("caution");
});

const issue = (changes: object = {}, more: object = {}) => {
  const onStep = vi.fn();
  return {
    ...show(
      <IssuePanel
        calibration={calibration(changes)}
        arm={arm({ window: foundWindow() })}
        policy="centre"
        chosen={2.9}
        onStep={onStep}
        {...more}
      />,
    ),
    onStep,
  };
};

test("a set is issued with its reason, in the band that is proposed", async () => {
  api.answers["POST /api/calibrations/c/issue"] = { code: "S-001" };
  const why = "Coupons at 23 °C, and 2 °C to either side; no temperature effect is shown.";
  api.answers["GET /api/calibrations/c/temperature-band"] = { low_c: 21, high_c: 25, basis: "coupons", why };
  const { user, place } = issue();
  expect(await screen.findByText(why)).toBeTruthy();
  await user.type(screen.getByLabelText("Why this exposure"), "Baffles need both.");
  await user.click(screen.getByRole("button", { name: /^Issue 2\.9/ }));
  await waitFor(() => expect(place()).toBe("/sets/S-001"));
  expect(api.of("POST", "/api/calibrations/c/issue")[0]!.body).toEqual({
    version: 3,
    arm_id: "a",
    exposure_s: 2.9,
    policy: "centre",
    reason: "Baffles need both.",
    temp_low_c: 21,
    temp_high_c: 25,
    outside_reason: null,
  });
  expect(localStorage.getItem("setback.issue.c")).toBeNull();
});

test("it is not issued before its band is proposed: it would carry none", async () => {
  let propose: (band: object) => void = () => undefined;
  api.answers["GET /api/calibrations/c/temperature-band"] = () => new Promise((resolve) => (propose = resolve));
  issue();
  const button = screen.getByRole<HTMLButtonElement>("button", { name: /^Issue 2\.9/ });
  expect(button.disabled).toBe(true);
  await waitFor(() => expect(api.of("GET", "/api/calibrations/c/temperature-band")).toHaveLength(1));
  propose({ low_c: 21, high_c: 25, basis: "coupons", why: "Coupons at 23 °C." });
  await waitFor(() => expect(button.disabled).toBe(false));
});

test("outside an offer a second reason is asked for, and refused at its field", async () => {
  const window = foundWindow({
    policies: null,
    decision: "more",
    predictions: [prediction(2.9, { offered: false, p: 0.4 })],
  });
  api.answers["POST /api/calibrations/c/issue"] = new Refusal(422, "No.", { outside_reason: "Say why." });
  const { user } = issue({}, { arm: arm({ window }), policy: "own choice" });
  expect(screen.getByText(/does not offer this exposure: all requirements hold with 40/)).toBeTruthy();
  await user.type(screen.getByLabelText("Why this exposure"), "Needed by the tide.");
  await user.click(screen.getByRole("button", { name: /^Issue 2\.9/ }));
  expect(await screen.findByText("Say why.")).toBeTruthy();
  await user.type(screen.getByLabelText("Why outside an offer"), "A mould of one day.");
  await user.click(screen.getByRole("button", { name: /^Issue 2\.9/ }));
  await waitFor(() =>
    expect(api.of("POST", "/api/calibrations/c/issue")[1]?.body).toMatchObject({
      policy: "own choice",
      outside_reason: "A mould of one day.",
    }),
  );
});

test("a base exposure nobody rated is said, with the way to rate one; a rated one is not", async () => {
  const { user, onStep, unmount } = issue();
  expect(screen.getByText(/no first layer was rated/)).toBeTruthy();
  await user.click(screen.getByRole("button", { name: "Rate one" }));
  expect(onStep).toHaveBeenCalledWith("first-layer");
  unmount();
  issue({ stages_done: ["first-layer"] });
  expect(screen.queryByText(/no first layer was rated/)).toBeNull();
});

test("a reason too short is refused at its field, and kept until it is good enough", async () => {
  api.answers["POST /api/calibrations/c/issue"] = new Refusal(422, "No.", { reason: "too short" });
  const { user } = issue();
  await user.type(screen.getByLabelText("Why this exposure"), "so");
  await user.click(screen.getByRole("button", { name: /^Issue/ }));
  expect(await screen.findByText(/ten characters or more/)).toBeTruthy();
  expect(JSON.parse(sessionStorage.getItem("setback.kept.issue.c") ?? "{}")).toMatchObject({ reason: "so" });
});

test("nobody issues without initials, on a provisional window, or in a closed calibration", () => {
  const { unmount } = show(
    <IssuePanel
      calibration={calibration()}
      arm={arm({ window: foundWindow() })}
      policy="centre"
      chosen={2.9}
      onStep={() => undefined}
    />,
    { who: null },
  );
  expect(screen.getByRole<HTMLButtonElement>("button", { name: /^Issue/ }).disabled).toBe(true);
  unmount();
  const second = issue({}, { arm: arm({ window: foundWindow({ provisional: true }) }) });
  expect(screen.getByText(/a set is not issued on it/)).toBeTruthy();
  second.unmount();
  issue({ closed_at: "2026-01-01T00:00:00Z" });
  expect(screen.getByText("This calibration is closed.")).toBeTruthy();
  expect(screen.queryByRole("button", { name: /^Issue/ })).toBeNull();
});

test("what was issued before stands above", () => {
  issue({
    sets: [
      { id: "s", code: "S-001", version: 1, exposure_s: 2.6, policy: "size-true", issued_at: "2026-01-20T09:00:00Z" },
    ],
  });
  expect(screen.getByRole("link", { name: "S-001, version 1" }).getAttribute("href")).toBe("/sets/S-001");
});

const CHECKS = [
  { key: "gloves", text: "Gloves on", looks_like: "", caution: "Uncured resin sensitises skin." },
  { key: "vat", text: "Vat level", looks_like: "a thin vat looks like too little light", caution: "" },
];
const state = (occasion: string, changes: object = {}) => ({
  occasion,
  checks: CHECKS,
  done: false,
  skipped: false,
  ticked: [],
  initials: null,
  at: null,
  ...changes,
});
function prepare(changes: object, coupons: object[] = [], more: object = {}) {
  api.answers["GET /api/calibrations/c/preparing"] = {
    campaign: state("campaign"),
    print: state("print"),
    gates: [],
    vat: null,
    ...changes,
  };
  api.answers["POST /api/calibrations/c/preparing"] = api.answers["GET /api/calibrations/c/preparing"];
  return show(
    <PreparePanel calibration={calibration(more)} arm={arm({ coupons, to_print: coupons.map(() => "103N") })} />,
  );
}

test("all is ticked before it is checked; what was ticked is sent", async () => {
  const { user } = prepare({});
  const checked = await screen.findByRole<HTMLButtonElement>("button", { name: "All checked" });
  expect(checked.disabled).toBe(true);
  for (const one of screen.getAllByRole("checkbox")) await user.click(one);
  await user.click(checked);
  await waitFor(() =>
    expect(api.of("POST", "/api/calibrations/c/preparing")[0]?.body).toEqual({
      occasion: "campaign",
      ticked: ["gloves", "vat"],
      skipped: false,
    }),
  );
});

test("after the first full check of a day one press says that it still holds", async () => {
  const earlier = { initials: "RB", at: "2026-01-21T07:40:00Z" };
  const { user } = prepare({ campaign: state("campaign", { done: true }), print: state("print", { earlier }) }, [
    card({ status: "read" }),
    card({ id: "2", code: "104R" }),
  ]);
  await user.click(await screen.findByRole("button", { name: /^Still as checked at .* by RB$/ }));
  await waitFor(() =>
    expect(api.of("POST", "/api/calibrations/c/preparing")[0]?.body).toEqual({
      occasion: "print",
      ticked: ["gloves", "vat"],
      skipped: false,
    }),
  );
});

test("a check may be skipped, and says who skipped it", async () => {
  const { user, unmount } = prepare({});
  await user.click(await screen.findByRole("button", { name: "Skip; it is recorded" }));
  await waitFor(() =>
    expect(api.of("POST", "/api/calibrations/c/preparing")[0]?.body).toEqual({
      occasion: "campaign",
      ticked: [],
      skipped: true,
    }),
  );
  unmount();
  prepare(
    {
      campaign: state("campaign", { done: true, skipped: true, initials: "RB", at: "2026-01-21T09:00:00Z" }),
      print: state("print", { done: true, skipped: true, initials: "RB", at: "2026-01-21T09:00:00Z" }),
    },
    [card()],
  );
  expect(await screen.findByText(/^Print not checked, skipped by RB/)).toBeTruthy();
});

test("what the vat is noted to hold is said while something waits to be printed", async () => {
  const { unmount } = prepare({ vat: "The vat of Cormorant is noted to hold Rinsewell, not Slate 2." }, [card()]);
  expect((await screen.findByRole("link", { name: "Its vat" })).getAttribute("href")).toBe("/blend/vat/r");
  unmount();
  prepare({ vat: "Nothing is noted." }, [card()], { simulated: true });
  await waitFor(() => expect(api.of("GET", "/api/calibrations/c/preparing")).toHaveLength(2));
  expect(screen.queryByText("Nothing is noted.")).toBeNull();
});

test("a closed calibration asks for no preparation", () => {
  prepare({}, [], { closed_at: "2026-01-01T00:00:00Z" });
  expect(api.sent).toEqual([]);
});
