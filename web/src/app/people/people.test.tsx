import { screen, waitFor } from "@testing-library/react";
import { beforeEach, expect, test } from "vitest";
import { body, POST } from "../../shared/api/client";
import { useSend } from "../../shared/api/useSend";
import { TextField } from "../../shared/fields/TextField";
import { Trouble } from "../../shared/Trouble";
import { fakeApi, Refusal, show } from "../../testingTools";
import PeoplePage from "../../sections/lab/PeoplePage";
import { useState } from "react";
import { CertificateEnds } from "./CertificateEnds";
import { ClockOff } from "./ClockOff";
import PairPage from "./PairPage";
import { SignInPage } from "./SignInPage";
import { TechnicianMenu } from "./TechnicianMenu";
import { useTechnician } from "./technician";
import { WhoIsWorking } from "./WhoIsWorking";

const RB = {
  initials: "RB",
  role: "lead",
  by: "password",
  must_change: false,
  may_write: true,
  may_lead: true,
  has_pin: false,
};
const IM = { ...RB, initials: "IM", role: "technician", may_lead: false };
const session = (signed_in: object | null, changes: object = {}) => ({
  asks: true,
  signed_in,
  people_here: [],
  now: new Date().toISOString(),
  certificate_ends: null,
  certificate_is_near: false,
  ...changes,
});
const OUT = new Refusal(401, "Sign in first.", { sign_in: "Sign in first." });

let api: ReturnType<typeof fakeApi>;
beforeEach(() => {
  api = fakeApi({
    "GET /api/session": session(RB),
    "GET /api/people": {
      items: [
        { id: "a", initials: "IM", role: "technician", last_used_at: null, revoked_at: null, must_change: true },
        { id: "b", initials: "RB", role: "lead", last_used_at: "2026-01-21T09:00:00Z", revoked_at: null },
        { id: "c", initials: "TO", role: "viewer", last_used_at: null, revoked_at: "2026-01-02T09:00:00Z" },
      ],
      roles: { viewer: "looks", technician: "works", lead: "signs" },
    },
    "GET /api/devices": {
      items: [
        { id: "d", name: "Bench", initials: ["RB"], last_used_at: "2026-01-21T09:00:00Z", is_this: true },
        { id: "e", name: "Phone", initials: ["IM"], last_used_at: "2026-01-20T09:00:00Z", is_this: false },
      ],
    },
  });
});

/** Comes and goes with who is signed in, as the shell's page does. */
function Page() {
  const { session: now, initials } = useTechnician();
  if (!now) return null;
  return now.signed_in ? <p>working as {initials}</p> : <SignInPage />;
}

test("whoever signs in by password works under those initials", async () => {
  api.answers["GET /api/session"] = session(null);
  api.answers["POST /api/session/sign-in"] = () => {
    api.answers["GET /api/session"] = session(RB);
    return session(RB);
  };
  const { user } = show(<Page />);
  await user.type(await screen.findByLabelText("Initials"), "rb");
  await user.type(screen.getByLabelText("Password"), "kelp forest{Enter}");
  expect(await screen.findByText("working as RB")).toBeTruthy();
  expect(api.of("POST", "/api/session/sign-in")[0]!.body).toEqual({ initials: "rb", password: "kelp forest" });
});

test("a wrong password says so at its field, which is emptied", async () => {
  api.answers["GET /api/session"] = session(null);
  api.answers["POST /api/session/sign-in"] = new Refusal(422, "Wrong.", { password: "These do not belong together." });
  const { user } = show(<Page />);
  await user.type(await screen.findByLabelText("Initials"), "rb");
  await user.type(screen.getByLabelText("Password"), "no{Enter}");
  expect(await screen.findByText("These do not belong together.")).toBeTruthy();
  expect(screen.getByLabelText<HTMLInputElement>("Password").value).toBe("");
  expect(screen.getByLabelText<HTMLInputElement>("Initials").value).toBe("rb");
});

test("those with a PIN here come back by it, and a locked one is told to give the password", async () => {
  api.answers["GET /api/session"] = session(null, {
    people_here: [
      { initials: "IM", is_locked: false },
      { initials: "RB", is_locked: true },
    ],
  });
  api.answers["POST /api/session/switch"] = () => {
    api.answers["GET /api/session"] = session(IM);
    return session(IM);
  };
  const { user } = show(<Page />);
  await user.click(await screen.findByRole("button", { name: "RB" }));
  expect(screen.getByText(/The PIN of RB is locked/)).toBeTruthy();
  expect(screen.getByLabelText<HTMLInputElement>("Initials").value).toBe("RB");
  await user.click(screen.getByRole("button", { name: "IM" }));
  await user.type(screen.getByLabelText("PIN of IM"), "4826{Enter}");
  expect(await screen.findByText("working as IM")).toBeTruthy();
  expect(api.of("POST", "/api/session/switch")[0]!.body).toEqual({ initials: "IM", pin: "4826" });
});

function Note() {
  const [text, setText] = useState("");
  const send = useSend((_: null) =>
    body(POST("/api/prints/{print_id}/cancel", { params: { path: { print_id: "p" } } })),
  );
  return (
    <>
      <TextField label="Note" value={text} onChange={setText} />
      <button onClick={() => send.mutate(null)}>{send.data?.code ?? "Send"}</button>
      <Trouble error={send.error} />
      <WhoIsWorking />
    </>
  );
}

test("somebody who is let in no more signs in over the page, and what was typed goes on", async () => {
  api.answers["POST /api/prints/p/cancel"] = () => {
    api.answers["GET /api/session"] = session(null);
    return OUT;
  };
  api.answers["POST /api/session/sign-in"] = () => {
    api.answers["GET /api/session"] = session(RB);
    api.answers["POST /api/prints/p/cancel"] = { id: "p", code: "J-001" };
    return session(RB);
  };
  const { user } = show(<Note />);
  await user.type(screen.getByLabelText("Note"), "left corner");
  await user.click(screen.getByRole("button", { name: "Send" }));
  expect(await screen.findByText(/What you typed is still on the page/)).toBeTruthy();
  await user.type(screen.getByLabelText("Initials"), "rb");
  await user.type(screen.getByLabelText("Password"), "kelp forest{Enter}");
  expect(await screen.findByRole("button", { name: "J-001" })).toBeTruthy();
  expect(screen.getByLabelText<HTMLInputElement>("Note").value).toBe("left corner");
  await waitFor(() => expect(screen.queryByText("You are signed out here")).toBeNull());
});

test("a signature asks for the password and then goes on; a wrong one is told", async () => {
  let confirmed = false;
  api.answers["POST /api/prints/p/cancel"] = () =>
    confirmed ? { id: "p", code: "N-001" } : new Refusal(422, "Again.", { confirmation: "Give your password again." });
  api.answers["POST /api/session/confirm"] = ({ body: sent }: { body: { password: string } }) => {
    if (sent.password !== "kelp forest") return new Refusal(422, "No.", { password: "This is not your password." });
    confirmed = true;
    return session(RB);
  };
  const { user } = show(<Note />);
  await user.click(screen.getByRole("button", { name: "Send" }));
  await user.type(await screen.findByLabelText("Password of RB"), "no{Enter}");
  expect(await screen.findByText("This is not your password.")).toBeTruthy();
  await user.type(screen.getByLabelText("Password of RB"), "kelp forest{Enter}");
  expect(await screen.findByRole("button", { name: "N-001" })).toBeTruthy();
});

test("whoever does not sign keeps the page, and nothing is signed", async () => {
  api.answers["POST /api/prints/p/cancel"] = new Refusal(422, "Again.", { confirmation: "Give your password again." });
  const { user } = show(<Note />);
  await user.click(screen.getByRole("button", { name: "Send" }));
  await screen.findByLabelText("Password of RB");
  await user.keyboard("{Escape}");
  expect(await screen.findByText("Again.")).toBeTruthy();
  expect(api.of("POST", "/api/session/confirm")).toEqual([]);
});

test("the menu says who is signed in and offers those with a PIN here", async () => {
  api.answers["GET /api/session"] = session(RB, { people_here: [{ initials: "IM", is_locked: false }] });
  const { user } = show(<TechnicianMenu />);
  await user.click(await screen.findByRole("button", { name: "Working as RB" }));
  expect(screen.getByText("RB, lead")).toBeTruthy();
  await user.click(screen.getByRole("button", { name: /Change to IM/ }));
  expect(await screen.findByLabelText("PIN of IM")).toBeTruthy();
});

test("a lead adds somebody, who is told of at their field when that will not do", async () => {
  api.answers["POST /api/people"] = new Refusal(422, "No.", { initials: "TW has an account already." });
  const { user } = show(<PeoplePage />);
  expect(await screen.findByText("has not chosen a password yet")).toBeTruthy();
  await user.click(screen.getByRole("button", { name: "Add somebody" }));
  await user.type(screen.getByLabelText(/Initials, one to four/), "tw");
  await user.selectOptions(screen.getByLabelText("Role"), "viewer");
  await user.type(screen.getByLabelText("Password for the first time"), "a tide table{Enter}");
  expect(await screen.findByText("TW has an account already.")).toBeTruthy();
  const sent = api.of("POST", "/api/people")[0]!.body;
  expect(sent).toEqual({ initials: "tw", role: "viewer", password: "a tide table" });
});

test("a revoked account is taken back, also by undo", async () => {
  api.answers["POST /api/people/a/revoke"] = { id: "a", initials: "IM" };
  api.answers["POST /api/people/a/restore"] = { id: "a", initials: "IM" };
  api.answers["POST /api/people/c/restore"] = { id: "c", initials: "TO" };
  const { user } = show(<PeoplePage />);
  await user.click(await screen.findByRole("button", { name: "Revoke IM" }));
  await user.click(await screen.findByRole("button", { name: "Undo" }));
  await waitFor(() => expect(api.of("POST", "/api/people/a/restore")).toHaveLength(1));
  await user.click(screen.getByRole("button", { name: "Let in again" }));
  await waitFor(() => expect(api.of("POST", "/api/people/c/restore")).toHaveLength(1));
});

test("a technician sees neither accounts nor what is not theirs", async () => {
  api.answers["GET /api/session"] = session(IM);
  show(<PeoplePage />);
  expect(await screen.findByText("Browsers you signed in at.", { exact: false })).toBeTruthy();
  expect(screen.queryByRole("button", { name: "Add somebody" })).toBeNull();
  expect(api.of("GET", "/api/people")).toEqual([]);
});

test("somebody whose password a lead set is asked for one of their own", async () => {
  api.answers["GET /api/session"] = session({ ...IM, must_change: true });
  api.answers["PUT /api/session/password"] = { id: "a" };
  const { user } = show(<PeoplePage />);
  await user.type(await screen.findByLabelText("Password until now"), "handed over");
  await user.type(screen.getByLabelText("New password"), "a hut behind the dunes");
  await user.type(screen.getByLabelText("The new one again"), "a hut behind the dune");
  expect(screen.getByText("The two differ.")).toBeTruthy();
  expect(screen.getByRole<HTMLButtonElement>("button", { name: "Change it" }).disabled).toBe(true);
  await user.type(screen.getByLabelText("The new one again"), "s{Enter}");
  await waitFor(() => expect(api.of("PUT", "/api/session/password")).toHaveLength(1));
});

test("a PIN is chosen with the password", async () => {
  api.answers["PUT /api/session/pin"] = session({ ...RB, has_pin: true });
  const { user } = show(<PeoplePage />);
  await user.click(await screen.findByRole("button", { name: "Choose a PIN here…" }));
  await user.type(screen.getByLabelText("Your password"), "kelp forest");
  await user.type(screen.getByLabelText(/^PIN, four/), "4826{Enter}");
  await waitFor(() =>
    expect(api.of("PUT", "/api/session/pin")[0]?.body).toEqual({ password: "kelp forest", pin: "4826" }),
  );
});

test("a device is named and revoked", async () => {
  api.answers["PUT /api/devices/e"] = { items: [] };
  api.answers["POST /api/devices/e/revoke"] = { items: [] };
  const { user } = show(<PeoplePage />);
  await user.click(await screen.findByRole("button", { name: "Name Phone" }));
  await user.clear(screen.getByLabelText("What people here call it"));
  await user.type(screen.getByLabelText("What people here call it"), "Phone in the shed{Enter}");
  await waitFor(() => expect(api.of("PUT", "/api/devices/e")[0]?.body).toEqual({ name: "Phone in the shed" }));
  await user.click(screen.getByRole("button", { name: "Revoke Phone" }));
  await waitFor(() => expect(api.of("POST", "/api/devices/e/revoke")).toHaveLength(1));
});

test("where nobody signs in the page tells how a workshop is served", async () => {
  api.answers["GET /api/session"] = { ...session(null), asks: false };
  show(<PeoplePage />);
  expect(await screen.findByText(/setback serve --host/)).toBeTruthy();
});

test.each([
  [0, null],
  [-58, /58 minutes ahead of/],
  [60, /60 minutes behind/],
  [-180, /3 hours ahead of/],
  [3 * 24 * 60, /3 days behind/],
])("a server's clock %i minutes off", async (minutes, words) => {
  api.answers["GET /api/session"] = session(RB, { now: new Date(Date.now() + minutes * 60_000).toISOString() });
  show(
    <>
      <ClockOff />
      <Page />
    </>,
  );
  await screen.findByText("working as RB");
  if (words) expect(screen.getByRole("status").textContent).toMatch(words);
  else expect(screen.queryByRole("status")).toBeNull();
});

test.each([
  [100, null],
  [12, /runs out on .* nobody can open it/],
  [-2, /ran out on/],
])("a certificate that ends in %i days", async (days, words) => {
  const ends = new Date(Date.now() + days * 86_400_000).toISOString();
  api.answers["GET /api/session"] = session(RB, { certificate_ends: ends, certificate_is_near: days < 21 });
  show(
    <>
      <CertificateEnds />
      <Page />
    </>,
  );
  await screen.findByText("working as RB");
  if (words) expect(screen.getByRole("status").textContent).toMatch(words);
  else expect(screen.queryByRole("status")).toBeNull();
});

test("a phone is paired by a code on the screen, and another can be shown", async () => {
  let paired = false;
  let count = 0;
  const code = () => ({ id: `p${count}`, link: "x", ends_at: "2026-01-21T09:03:00Z", paired });
  api.answers["POST /api/session/pairings"] = () => {
    count += 1;
    return code();
  };
  api.answers["GET /api/session/pairings/p1"] = code;
  api.answers["GET /api/session/pairings/p2"] = code;
  const { user } = show(<PeoplePage />);
  await user.click(await screen.findByRole("button", { name: "Pair a phone…" }));
  const drawing = () => screen.getByRole("img", { name: "QR code to pair a phone" });
  await waitFor(() => expect(drawing().getAttribute("src")).toContain("/p1/"));
  await user.click(screen.getByRole("button", { name: "Another code" }));
  await waitFor(() => expect(drawing().getAttribute("src")).toContain("/p2/"));
  paired = true;
  expect(await screen.findByText(/The phone is paired/, {}, { timeout: 10_000 })).toBeTruthy();
});

test("the page a code leads to pairs by one tap, and says when the code is over", async () => {
  location.hash = "#secret";
  api.answers["GET /api/session"] = session(null);
  api.answers["POST /api/session/pair"] = new Refusal(422, "This code was used already.", { token: "Used." });
  const { user } = show(<PairPage />);
  await user.click(await screen.findByRole("button", { name: "Pair it" }));
  expect(await screen.findByText("This code was used already.")).toBeTruthy();
  expect(api.of("POST", "/api/session/pair")[0]!.body).toEqual({ token: "secret" });
  location.hash = "";
});
