import { fireEvent, screen } from "@testing-library/react";
import { expect, test, vi } from "vitest";
import { show } from "../testingTools";
import { KeyHelp } from "./KeyHelp";
import { type Shortcut, usePageKeys, useShownShortcuts } from "./shortcuts";

function Page({ keys }: { keys: Shortcut[] }) {
  usePageKeys(keys);
  return null;
}
function Foot() {
  return (
    <p role="note">
      {useShownShortcuts()
        .map((one) => `${one.keys} ${one.does}`)
        .join(" · ")}
    </p>
  );
}

test("keys of every part of a page are shown and work", async () => {
  const read = vi.fn();
  const plan = vi.fn();
  const { user } = show(
    <>
      <Page keys={[{ keys: "r", does: "read the next", run: read }]} />
      <Page keys={[{ keys: "n", does: "plan one", run: plan }]} />
      <Foot />
    </>,
  );
  expect(screen.getByRole("note").textContent).toBe("r read the next · n plan one");
  await user.keyboard("rn");
  expect([read.mock.calls.length, plan.mock.calls.length]).toEqual([1, 1]);
});

test("a key with nothing to do is shown and does nothing", async () => {
  const { user } = show(
    <>
      <Page keys={[{ keys: "r", does: "read the next" }]} />
      <Foot />
    </>,
  );
  await user.keyboard("r");
  expect(screen.getByRole("note").textContent).toBe("r read the next");
});

test("what is typed into a field is no shortcut", async () => {
  const run = vi.fn();
  const { user } = show(
    <>
      <Page keys={[{ keys: "n", does: "plan", run }]} />
      <input aria-label="Name" />
    </>,
  );
  await user.type(screen.getByLabelText("Name"), "number nine");
  expect(run).not.toHaveBeenCalled();
});

test("while a dialog is open the page's keys rest", async () => {
  const run = vi.fn();
  const { user } = show(
    <>
      <Page keys={[{ keys: "l", does: "limits", run }]} />
      <div className="modal show" />
    </>,
  );
  await user.keyboard("l");
  expect(run).not.toHaveBeenCalled();
});

test("Ctrl and Enter is one key, by its own name", () => {
  const run = vi.fn();
  show(<Page keys={[{ keys: "Ctrl Enter", hotkey: "ctrl+enter", does: "save", run }]} />);
  fireEvent.keyDown(document, { key: "Enter", code: "Enter", ctrlKey: true });
  expect(run).toHaveBeenCalledTimes(1);
});

test("the list names the keys of this page and of every page, each section with its letter", () => {
  show(
    <>
      <Page
        keys={[
          { keys: "r", does: "read the next" },
          { keys: "right", does: "" },
        ]}
      />
      <KeyHelp show onClose={() => undefined} />
    </>,
  );
  const list = screen.getByRole("dialog", { name: "Help" }).textContent;
  expect(list).toContain("Keys on this page");
  expect(list).toContain("read the next");
  expect(list).toContain("g cgo to Calibrate");
  expect(list).not.toContain("right");
});
