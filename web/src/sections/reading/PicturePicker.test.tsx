import { fireEvent, screen } from "@testing-library/react";
import { useState } from "react";
import { expect, test } from "vitest";
import { fakeApi, show } from "../../testingTools";
import { PicturePicker } from "./PicturePicker";

function Picker({ scansOnly }: { scansOnly: boolean }) {
  const [dpi, setDpi] = useState<number | null>(null);
  return (
    <PicturePicker
      words="Read from a picture"
      reading={false}
      dpi={dpi}
      scansOnly={scansOnly}
      onDpi={setDpi}
      onPick={() => undefined}
    />
  );
}

const button = () => screen.getByRole<HTMLButtonElement>("button", { name: "Read from a picture" });

test("a coupon that only a scan tells waits for the scan's resolution", async () => {
  fakeApi({ "GET /api/file-limits": { scanner_dpi: [300, 600] } });
  show(<Picker scansOnly />, { at: "/" });
  expect(button().disabled).toBe(true);
  expect(screen.getByText(/Off a scan alone/)).toBeTruthy();
  await screen.findByRole("option", { name: /600/ });
  fireEvent.change(screen.getByLabelText("What took it"), { target: { value: "600" } });
  expect(button().disabled).toBe(false);
  expect(screen.queryByText(/Off a scan alone/)).toBeNull();
});

test("of any other a photo will do", () => {
  fakeApi({ "GET /api/file-limits": { scanner_dpi: [300, 600] } });
  show(<Picker scansOnly={false} />, { at: "/" });
  expect(button().disabled).toBe(false);
  expect(screen.getByRole("option", { name: "photo" })).toBeTruthy();
});
