import { screen, waitFor, within } from "@testing-library/react";
import { useState } from "react";
import { expect, test, vi } from "vitest";
import { ApiError } from "../api/client";
import { show } from "../../testingTools";
import { EntryForm } from "./EntryForm";
import { FormDialog } from "./FormDialog";
import { Choice, type Option } from "./Choice";
import { TextField } from "./TextField";

function Chosen({ options, none }: { options: Option[]; none?: string }) {
  const [value, setValue] = useState("");
  return <Choice label="Method" value={value} onChange={setValue} options={options} none={none} />;
}
const FLAT: Option[] = [
  ["bend", "Cantilever bend"],
  ["wear", "Joint wear"],
];
const names = () =>
  within(screen.getByLabelText("Method"))
    .getAllByRole("option")
    .map((one) => one.textContent);

test("a choice asks until one is chosen, then offers only what there is", async () => {
  const { user } = show(<Chosen options={FLAT} />);
  expect(names()).toEqual(["Choose…", "Cantilever bend", "Joint wear"]);
  await user.selectOptions(screen.getByLabelText("Method"), "Joint wear");
  expect(names()).toEqual(["Cantilever bend", "Joint wear"]);
});

test("where nothing may be chosen, that stays on offer under its own name", async () => {
  const { user } = show(<Chosen options={FLAT} none="no brief" />);
  await user.selectOptions(screen.getByLabelText("Method"), "wear");
  expect(names()[0]).toBe("no brief");
});

test("a long list stands under its headings, in the order in which they come", () => {
  show(
    <Chosen
      options={[
        ["a", "Latitude", "Parameter set"],
        ["b", "Strength", "Bend"],
        ["c", "Growth", "Parameter set"],
      ]}
    />,
  );
  const groups = within(screen.getByLabelText("Method")).getAllByRole("group");
  expect(groups.map((one) => one.getAttribute("label"))).toEqual(["Parameter set", "Bend"]);
  expect(
    within(groups[0]!)
      .getAllByRole("option")
      .map((one) => one.textContent),
  ).toEqual(["Latitude", "Growth"]);
});

test("what the server says of a choice stands at it", () => {
  show(
    <Choice label="Bottle" value="b" onChange={() => undefined} options={[["b", "B-001"]]} error="B-001 is retired." />,
  );
  expect(screen.getByText("B-001 is retired.")).toBeTruthy();
  expect(screen.getByLabelText("Bottle").className).toContain("is-invalid");
});

test("text is given on as it is typed", async () => {
  const onChange = vi.fn();
  const { user } = show(<TextField label="Note" value="" onChange={onChange} />);
  await user.type(screen.getByLabelText("Note"), "p");
  expect(onChange).toHaveBeenCalledWith("p");
});

test("a line says what is wrong, what is meant, and takes several lines where asked", () => {
  show(
    <>
      <TextField
        label="Name"
        value=""
        onChange={() => undefined}
        error="Give it a name."
        hint="As people call it here"
        placeholder="Slate 2"
      />
      <TextField label="Why" value="" onChange={() => undefined} lines={3} />
    </>,
  );
  expect(screen.getByText("Give it a name.").className).toContain("invalid-feedback");
  expect(screen.getByText("As people call it here")).toBeTruthy();
  expect(screen.getByLabelText("Why").tagName).toBe("TEXTAREA");
  expect(screen.getByLabelText("Name").className).toContain("is-invalid");
});

function Adding({
  error = null,
  saving = false,
  onSave,
}: {
  error?: ApiError | null;
  saving?: boolean;
  onSave: () => void;
}) {
  return (
    <FormDialog title="A new dye" error={error} saving={saving} onSave={onSave} onClose={() => undefined}>
      <TextField label="Name" value="Rust" onChange={() => undefined} autoFocus />
    </FormDialog>
  );
}

test("Enter in a field of a small dialog adds what it holds", async () => {
  const onSave = vi.fn();
  const { user } = show(<Adding onSave={onSave} />);
  await user.type(within(screen.getByRole("dialog", { name: "A new dye" })).getByLabelText("Name"), "{Enter}");
  expect(onSave).toHaveBeenCalledTimes(1);
});

test("while it is saved nobody adds it twice", () => {
  show(<Adding onSave={() => undefined} saving />);
  expect(screen.getByRole<HTMLButtonElement>("button", { name: "Add it" }).disabled).toBe(true);
});

test("a refusal that belongs to no field stands below; one that does is left to its field", () => {
  const { unmount } = show(<Adding onSave={() => undefined} error={new ApiError(409, "It is there already.")} />);
  expect(screen.getByText("It is there already.")).toBeTruthy();
  unmount();
  show(
    <Adding
      onSave={() => undefined}
      error={new ApiError(422, "Look at the name.", { fields: { name: "Too long." } })}
    />,
  );
  expect(screen.queryByText("Look at the name.")).toBeNull();
});

test("saving a dialog ends in it: the form it was opened from is not submitted", async () => {
  const beneath = vi.fn((event: { preventDefault: () => void }) => event.preventDefault());
  const onSave = vi.fn();
  const { user, rerender } = show(
    <form onSubmit={beneath}>
      <Adding onSave={onSave} />
    </form>,
  );
  await user.click(screen.getByRole("button", { name: "Add it" }));
  await user.type(screen.getByLabelText("Name"), "{Enter}");
  expect(onSave).toHaveBeenCalledTimes(2);
  rerender(
    <form onSubmit={beneath}>
      <EntryForm
        title="Add a bottle"
        fields={[{ type: "text", name: "lot", label: "Lot" }]}
        values={{ lot: "SL-1" }}
        saving={false}
        error={null}
        onSave={onSave}
        onClose={() => undefined}
      />
    </form>,
  );
  await user.click(screen.getByRole("button", { name: "Save" }));
  await waitFor(() => expect(onSave).toHaveBeenCalledTimes(3));
  expect(beneath).not.toHaveBeenCalled();
});
