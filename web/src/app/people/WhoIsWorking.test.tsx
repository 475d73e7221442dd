import { screen, waitFor } from "@testing-library/react";
import { beforeEach, expect, test } from "vitest";
import { body, POST } from "../../shared/api/client";
import { useSend } from "../../shared/api/useSend";
import { Trouble } from "../../shared/Trouble";
import { fakeApi, Refusal, show } from "../../testingTools";
import { WhoIsWorking } from "./WhoIsWorking";

const NOBODY = new Refusal(422, "Choose your initials first.", { technician: "Choose your initials first." });
let api: ReturnType<typeof fakeApi>;
beforeEach(() => {
  api = fakeApi({
    "GET /api/technicians": { items: [{ id: "t", initials: "RB", retired_at: null }] },
    "POST /api/technicians": { id: "u", initials: "KL", retired_at: null },
    "POST /api/prints/{print_id}/cancel": {},
    "POST /api/prints/p/cancel": (sent: { headers: Headers }) =>
      sent.headers.get("Setback-Technician") ? { id: "p", code: "J-001" } : NOBODY,
  });
});

function Cancel() {
  const cancel = useSend((_: null) =>
    body(POST("/api/prints/{print_id}/cancel", { params: { path: { print_id: "p" } } })),
  );
  return (
    <>
      <button onClick={() => cancel.mutate(null)}>{cancel.data?.code ?? "Cancel the print"}</button>
      <Trouble error={cancel.error} />
    </>
  );
}
const open = () =>
  show(
    <>
      <WhoIsWorking />
      <Cancel />
    </>,
    { who: null },
  );

test("a change nobody is named for asks who is working, and then goes on by itself", async () => {
  const { user } = open();
  await user.click(screen.getByRole("button", { name: "Cancel the print" }));
  await user.click(await screen.findByRole("button", { name: "RB" }));
  expect(await screen.findByRole("button", { name: "J-001" })).toBeTruthy();
  expect(localStorage.getItem("setback.technician")).toBe("RB");
});

test("initials that are not here yet are added on the way", async () => {
  const { user } = open();
  await user.click(screen.getByRole("button", { name: "Cancel the print" }));
  await user.type(await screen.findByLabelText(/your initials/), "kl{Enter}");
  expect(await screen.findByRole("button", { name: "J-001" })).toBeTruthy();
  expect(api.of("POST", "/api/technicians")[0]?.body).toEqual({ initials: "kl" });
});

test("whoever does not say keeps what was entered, and is told", async () => {
  const { user } = open();
  await user.click(screen.getByRole("button", { name: "Cancel the print" }));
  await screen.findByRole("button", { name: "RB" });
  await user.keyboard("{Escape}");
  expect(await screen.findByText("Choose your initials first.")).toBeTruthy();
  await waitFor(() => expect(api.of("POST", "/api/prints/p/cancel")).toHaveLength(1));
});
