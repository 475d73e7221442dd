import { fireEvent, screen, waitFor } from "@testing-library/react";
import { useState } from "react";
import { expect, test } from "vitest";
import { fakeApi, show } from "../../testingTools";
import { FitPanel } from "./FitPanel";

const PROBE = { id: "k", name: "Chamber", printer_id: "p", printer: "Cormorant", place: "chamber air" };

/** A page that holds what is marked on the log. */
function Page() {
  const [picked, setPicked] = useState<[number, number] | null>(null);
  return <FitPanel probe={PROBE as never} picked={picked} onPick={setPicked} />;
}

test("a heating is marked by typing both times, and turned ends are said", async () => {
  const api = fakeApi({
    "GET /api/heaters": { items: [{ id: "h", name: "Mat", watts: 100, cut_out: true }] },
    "GET /api/chamber-fits": { items: [] },
    "POST /api/chamber-fits": { printer: "Cormorant", result: { time_constant_s: 900 } },
  });
  const { user } = show(<Page />);
  await screen.findByRole("option", { name: /^Mat, 100\sW$/ });
  const button = screen.getByRole<HTMLButtonElement>("button", { name: "Find the curve" });
  fireEvent.change(screen.getByLabelText("Switched on"), { target: { value: "2026-01-21T08:00" } });
  fireEvent.change(screen.getByLabelText("Switched off"), { target: { value: "2026-01-21T07:00" } });
  expect(screen.getByText("This is before it was switched on.")).toBeTruthy();
  expect(button.disabled).toBe(true);
  fireEvent.change(screen.getByLabelText("Switched off"), { target: { value: "2026-01-21T09:00" } });
  await user.click(button);
  await waitFor(() => expect(api.of("POST", "/api/chamber-fits")).toHaveLength(1));
  const sent = api.of("POST", "/api/chamber-fits")[0]?.body as { from_at: string; to_at: string };
  expect(Date.parse(sent.to_at) - Date.parse(sent.from_at)).toBe(3_600_000);
});
