import { expect, test } from "vitest";
import { inTurn } from "./inTurn";

const settable = () => {
  let settle = () => {};
  const done = new Promise<void>((resolve) => (settle = resolve));
  return { done, settle };
};

test("another's change waits, the same change tapped twice does not", async () => {
  const order: string[] = [];
  const first = settable();
  const a = inTurn("a", async () => {
    order.push("a");
    await first.done;
    order.push("a done");
  });
  const again = inTurn("a", async () => void order.push("a again"));
  const b = inTurn("b", async () => void order.push("b"));
  await again;
  expect(order).toEqual(["a", "a again"]);
  first.settle();
  await Promise.all([a, b]);
  expect(order).toEqual(["a", "a again", "a done", "b"]);
});

test("a change that fails lets the next one go", async () => {
  const failed = inTurn("a", () => Promise.reject(new Error("no")));
  const next = inTurn("b", async () => "went");
  await expect(failed).rejects.toThrow("no");
  expect(await next).toBe("went");
});
