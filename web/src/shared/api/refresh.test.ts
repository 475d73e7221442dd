import { QueryClient, QueryObserver } from "@tanstack/react-query";
import { expect, test } from "vitest";
import { refresh } from "./refresh";

test("a first answer that was on its way before a change is not taken for fresh", async () => {
  const queries = new QueryClient();
  const answers: ((value: string) => void)[] = [];
  const observer = new QueryObserver(queries, {
    queryKey: ["coupon"],
    queryFn: () => new Promise<string>((resolve) => answers.push(resolve)),
  });
  const leave = observer.subscribe(() => undefined);
  expect(answers).toHaveLength(1);
  const refreshed = refresh(queries);
  answers[0]!("to read");
  await new Promise((resolve) => setTimeout(resolve));
  expect(answers).toHaveLength(2);
  answers[1]!("read");
  await refreshed;
  expect(observer.getCurrentResult().data).toBe("read");
  leave();
});
