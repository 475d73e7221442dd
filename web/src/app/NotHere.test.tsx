import { screen } from "@testing-library/react";
import { expect, test } from "vitest";
import { show } from "../testingTools";
import { NotHere } from "./NotHere";

test.each([
  ["/sets/S-999/old", "old"],
  ["/a/Slate%202", "Slate 2"],
  ["/a/50%", "50%"],
])("an address nobody has leads back, and to what %s may mean", (at, last) => {
  show(<NotHere />, { at });
  expect(screen.getByRole("button", { name: "Back" })).toBeTruthy();
  expect(screen.getByRole("link", { name: `Find “${last}”` }).getAttribute("href")).toBe(
    `/board?find=${encodeURIComponent(last)}`,
  );
});
