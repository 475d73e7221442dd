import { screen, waitFor } from "@testing-library/react";
import { useState } from "react";
import Button from "react-bootstrap/Button";
import { expect, test, vi } from "vitest";
import { useSay } from "../../app/toasts";
import { useSend } from "../api/useSend";
import { fakeApi, show } from "../../testingTools";
import { body, POST } from "../api/client";
import { Trouble } from "../Trouble";
import { EntryForm } from "./EntryForm";
import { FormDialog } from "./FormDialog";
import { NumberField } from "./NumberField";
import { SizesField } from "./SizesField";

const SAMPLE = "POST /api/probes/p/samples";
const keep = (temp: number | null) =>
  body(
    POST("/api/probes/{probe_id}/samples", { params: { path: { probe_id: "p" } }, body: { temp_c: temp } as never }),
  );

function Temperature({ value, onChange }: { value: number | null; onChange: (value: number | null) => void }) {
  return <NumberField label="Temperature" unit="°C" value={value} onChange={onChange} />;
}

/** The same field in a form, and on a page with a button that saves. */
function Both({ inForm }: { inForm: boolean }) {
  const [temp, setTemp] = useState<number | null>(null);
  const [open, setOpen] = useState(false);
  const say = useSay();
  const back = useSend((_: null) => keep(0));
  const save = useSend(
    (_: null) => keep(temp),
    () => say("Saved.", () => back.mutate(null)),
  );
  const field = <Temperature value={temp} onChange={setTemp} />;
  return (
    <>
      {inForm ? (
        <form
          onSubmit={(event) => {
            event.preventDefault();
            save.mutate(null);
          }}
        >
          {field}
          <Button type="submit">Save</Button>
        </form>
      ) : (
        <>
          {field}
          <Button onClick={() => save.mutate(null)}>Save</Button>
        </>
      )}
      <Button onClick={() => setOpen(true)}>Open</Button>
      {open && (
        <FormDialog
          title="A dialog"
          action="Keep"
          saving={false}
          error={null}
          onSave={() => back.mutate(null)}
          onClose={() => setOpen(false)}
        >
          <SizesField label="Sizes" unit="mm" values={null} onChange={() => undefined} />
        </FormDialog>
      )}
      <Trouble error={save.error} />
    </>
  );
}

test.each([true, false])(
  "a number that cannot be read is not saved as nothing, in a form (%s) or out of one",
  async (inForm) => {
    const api = fakeApi({ [SAMPLE]: {} });
    const { user } = show(<Both inForm={inForm} />);
    const field = screen.getByLabelText<HTMLInputElement>("Temperature");
    await user.type(field, "2l.5 °C");
    await user.click(screen.getByRole("button", { name: "Save" }));
    expect(document.activeElement).toBe(field);
    expect(field.value).toBe("2l.5 °C");
    expect(screen.getByText(/is no unit for this/, { selector: ".invalid-feedback" })).toBeTruthy();
    if (!inForm)
      expect(screen.getByRole("alert").textContent).toContain("Nothing was saved: “2l.5 °C” cannot be read.");
    await user.type(field, "{Enter}");
    expect(api.sent).toEqual([]);
    await user.clear(field);
    await user.type(field, "21,5");
    await user.click(screen.getByRole("button", { name: "Save" }));
    await waitFor(() => expect(api.sent.map((one) => one.body)).toEqual([{ temp_c: 21.5 }]));
  },
);

test("what was saved before can be undone while something else cannot be read", async () => {
  const api = fakeApi({ [SAMPLE]: {} });
  const { user } = show(<Both inForm={false} />);
  const field = screen.getByLabelText("Temperature");
  await user.type(field, "21");
  await user.click(screen.getByRole("button", { name: "Save" }));
  const undo = await screen.findByRole("button", { name: "Undo" });
  await user.type(field, "x");
  await user.click(undo);
  await waitFor(() => expect(api.sent).toHaveLength(2));
});

test("a dialog answers for its own fields and for no others", async () => {
  const api = fakeApi({ [SAMPLE]: {} });
  const { user } = show(<Both inForm={false} />);
  await user.type(screen.getByLabelText("Temperature"), "x");
  await user.click(screen.getByRole("button", { name: "Open" }));
  await user.type(screen.getByLabelText("Sizes"), "0.1 o.2");
  await user.click(screen.getByRole("button", { name: "Keep" }));
  expect(document.activeElement).toBe(screen.getByLabelText("Sizes"));
  expect(api.sent).toEqual([]);
  await user.clear(screen.getByLabelText("Sizes"));
  await user.click(screen.getByRole("button", { name: "Keep" }));
  await waitFor(() => expect(api.sent).toHaveLength(1));
});

test("a large form keeps back a number that cannot be read", async () => {
  const onSave = vi.fn();
  const { user } = show(
    <EntryForm
      title="Add a printer"
      fields={[{ type: "number", name: "pixel_um", label: "Pixel", unit: "µm" }]}
      values={{ pixel_um: null }}
      saving={false}
      error={null}
      onSave={onSave}
      onClose={() => undefined}
    />,
  );
  await user.type(screen.getByLabelText("Pixel"), "3s");
  await user.click(screen.getByRole("button", { name: "Save" }));
  expect(onSave).not.toHaveBeenCalled();
  await user.clear(screen.getByLabelText("Pixel"));
  await user.type(screen.getByLabelText("Pixel"), "35");
  await user.click(screen.getByRole("button", { name: "Save" }));
  await waitFor(() => expect(onSave).toHaveBeenCalledWith({ pixel_um: 35 }));
});
