import { screen } from "@testing-library/react";
import { useState } from "react";
import { expect, test, vi } from "vitest";
import { fakeApi, show } from "../../testingTools";
import { EntryForm } from "./EntryForm";

const saved = vi.fn();

/** A row that somebody else changes while its form is open. */
function Changing() {
  const [version, setVersion] = useState(1);
  return (
    <>
      <button onClick={() => setVersion(2)}>Somebody saves</button>
      <EntryForm
        title="Slate 2"
        fields={[{ type: "text", name: "name", label: "Name" }]}
        values={{ name: "Slate 2" }}
        version={version}
        saving={false}
        error={null}
        onSave={saved}
        onClose={() => undefined}
      />
    </>
  );
}

test("a form sends the version it was opened on, whatever was fetched since", async () => {
  fakeApi({});
  const { user } = show(<Changing />);
  await user.click(screen.getByText("Somebody saves"));
  await user.click(screen.getByRole("button", { name: "Save" }));
  expect(saved).toHaveBeenCalledWith({ name: "Slate 2", version: 1 });
});
