import { onlineManager, useMutation } from "@tanstack/react-query";
import { act, screen } from "@testing-library/react";
import { afterEach, expect, test } from "vitest";
import { show } from "../testingTools";
import { Offline } from "./Offline";

afterEach(() => act(() => onlineManager.setOnline(true)));

function Saving() {
  const save = useMutation({ mutationFn: () => Promise.resolve("saved") });
  return <button onClick={() => save.mutate()}>{save.data ?? "Save"}</button>;
}

test("without a network it is said how many entries wait, and they are saved when it is back", async () => {
  const { user } = show(
    <>
      <Offline />
      <Saving />
    </>,
  );
  expect(screen.queryByText("No connection.")).toBeNull();
  act(() => onlineManager.setOnline(false));
  expect(screen.getByRole("status").textContent).toContain("waits in this tab");
  await user.click(screen.getByRole("button", { name: "Save" }));
  expect((await screen.findByRole("status")).textContent).toContain("1 entry waits");
  act(() => onlineManager.setOnline(true));
  expect(await screen.findByRole("button", { name: "saved" })).toBeTruthy();
  expect(screen.queryByText("No connection.")).toBeNull();
});
