import { useQuery } from "@tanstack/react-query";
import { screen, waitFor } from "@testing-library/react";
import { beforeEach, expect, test, vi } from "vitest";
import { fakeApi, Refusal, show } from "../../testingTools";
import { useJob } from "../job/useJob";
import { Loaded } from "../Loading";
import { ApiError, body, GET, POST, upload, send as sendFile } from "./client";
import { useSend } from "./useSend";

let api: ReturnType<typeof fakeApi>;
beforeEach(() => {
  api = fakeApi({ "GET /api/room": { room: null, stale: false } });
});
const room = () => body(GET("/api/room"));

test("an answer is its body", async () => {
  expect(await room()).toEqual({ room: null, stale: false });
});

test("a refusal is said in the server's words, with its fields", async () => {
  api.answers["GET /api/room"] = new Refusal(422, "Look at the fields.", { name: "Too long." });
  await expect(room()).rejects.toMatchObject({
    status: 422,
    message: "Look at the fields.",
    fields: { name: "Too long." },
  });
});

test("an answer without words still says what happened", async () => {
  vi.stubGlobal("fetch", () =>
    Promise.resolve(new Response("<html>", { status: 500, headers: { "Content-Type": "text/html" } })),
  );
  await expect(room()).rejects.toMatchObject({ status: 500, message: "The server answered 500." });
});

test("a proxy with no server behind it is no answer either", async () => {
  vi.stubGlobal("fetch", () => Promise.resolve(new Response("<html>", { status: 502 })));
  await expect(room()).rejects.toMatchObject({ status: 0 });
});

test("no answer at all loses nothing", async () => {
  vi.stubGlobal("fetch", () => Promise.reject(new TypeError("offline")));
  await expect(room()).rejects.toMatchObject({
    status: 0,
    message: "The server does not answer. Nothing is lost: try again when it is back.",
  });
});

test("files are sent as they are, or as a form, and their refusals are said", async () => {
  const asked: [string, RequestInit][] = [];
  vi.stubGlobal("fetch", (url: string, init: RequestInit) => {
    asked.push([url, init]);
    return Promise.resolve(
      Response.json(url.includes("photos") ? { error: { message: "This is no picture." } } : { id: "f" }, {
        status: url.includes("photos") ? 422 : 201,
      }),
    );
  });
  const file = new File(["a"], "log.csv");
  expect(await sendFile("/api/probe-files?name=log.csv", file)).toEqual({ id: "f" });
  expect(asked[0]![1].body).toBe(file);
  await expect(upload("/api/coupons/104R/photos", "photo", file)).rejects.toMatchObject({
    message: "This is no picture.",
  });
  expect((asked[1]![1].body as FormData).get("photo")).toBeTruthy();
  vi.stubGlobal("fetch", () => Promise.reject(new TypeError("offline")));
  await expect(upload("/api/x", "photo", file)).rejects.toMatchObject({
    status: 0,
    message: "The server does not answer. Nothing is lost: try again when it is back.",
  });
  await expect(sendFile("/api/x", file)).rejects.toMatchObject({ status: 0 });
});

const done = vi.fn();
function Sender() {
  const send = useSend(
    (name: string, headers) => body(POST("/api/technicians", { body: { initials: name }, headers })),
    done,
  );
  return (
    <>
      <button onClick={() => send.mutate("KL")}>send</button>
      <p role="note">{send.error?.message ?? send.status}</p>
    </>
  );
}
const keys = () => api.of("POST", "/api/technicians").map((one) => one.headers.get("Idempotency-Key"));

test("a change carries who made it and a key of its own; the next one has another", async () => {
  api.answers["POST /api/technicians"] = { initials: "KL" };
  const { user } = show(<Sender />, { who: "RB" });
  await user.click(screen.getByText("send"));
  await waitFor(() => expect(done).toHaveBeenCalledWith({ initials: "KL" }, "KL"));
  expect(api.of("POST", "/api/technicians")[0]!.headers.get("Setback-Technician")).toBe("RB");
  await user.click(screen.getByText("send"));
  await waitFor(() => expect(keys()).toHaveLength(2));
  expect(keys()[0]).not.toBe(keys()[1]);
});

test("after a lost answer the same key is sent again, so that nothing is made twice", async () => {
  const answered = globalThis.fetch;
  const lost: (string | null)[] = [];
  vi.stubGlobal("fetch", (request: Request) => {
    if (request.method === "POST") lost.push(request.headers.get("Idempotency-Key"));
    return Promise.reject(new TypeError("offline"));
  });
  const { user } = show(<Sender />);
  await user.click(screen.getByText("send"));
  expect(await screen.findByText(/Nothing is lost/)).toBeTruthy();
  vi.stubGlobal("fetch", answered);
  api.answers["POST /api/technicians"] = { initials: "KL" };
  await user.click(screen.getByText("send"));
  await waitFor(() => expect(keys()).toEqual(lost));
});

test("after a refusal the next try is a change of its own", async () => {
  api.answers["POST /api/technicians"] = new Refusal(422, "No.", {});
  const { user } = show(<Sender />);
  await user.click(screen.getByText("send"));
  expect(await screen.findByText("No.")).toBeTruthy();
  await user.click(screen.getByText("send"));
  await waitFor(() => expect(keys()).toHaveLength(2));
  expect(keys()[0]).not.toBe(keys()[1]);
});

function Job() {
  const { job, running, stop } = useJob("j");
  return (
    <>
      <p role="note">{job ? `${job.state}${running ? ", runs" : ""}` : "asking"}</p>
      <button onClick={stop}>stop</button>
    </>
  );
}

test("long work is followed to its end, and then what is on screen is asked for anew", async () => {
  let asked = 0;
  api.answers["GET /api/jobs/j"] = () => ({
    id: "j",
    state: ["queued", "running", "done"][Math.min(asked++, 2)],
    progress: 0,
    message: "",
    result: null,
  });
  function Page() {
    useQuery({ queryKey: ["room"], queryFn: room });
    return <Job />;
  }
  show(<Page />);
  expect(await screen.findByText("done")).toBeTruthy();
  await waitFor(() => expect(api.of("GET", "/api/room").length).toBeGreaterThan(1));
  const after = asked;
  await new Promise((resolve) => setTimeout(resolve, 500));
  expect(asked).toBe(after);
});

test("long work can be stopped", async () => {
  api.answers["GET /api/jobs/j"] = { id: "j", state: "running", progress: 0.2, message: "", result: null };
  api.answers["POST /api/jobs/j/cancel"] = { id: "j", state: "cancelled" };
  const { user } = show(<Job />);
  expect(await screen.findByText("running, runs")).toBeTruthy();
  await user.click(screen.getByText("stop"));
  await waitFor(() => expect(api.of("POST", "/api/jobs/j/cancel")).toHaveLength(1));
});

function Page({ ask }: { ask: () => Promise<string> }) {
  return <Loaded query={useQuery({ queryKey: ["x"], queryFn: ask, retry: false })}>{(held) => <p>{held}</p>}</Loaded>;
}

test("what could not be fetched is said and tried again; what is not there is not", async () => {
  const ask = vi
    .fn<() => Promise<string>>()
    .mockRejectedValueOnce(new ApiError(0, "The server does not answer."))
    .mockResolvedValue("here");
  const { user, unmount } = show(<Page ask={ask} />);
  await user.click(await screen.findByRole("button", { name: "Try again" }));
  expect(await screen.findByText("here")).toBeTruthy();
  unmount();
  show(<Page ask={() => Promise.reject(new ApiError(404, "There is no such set."))} />);
  expect(await screen.findByText("There is no such set.")).toBeTruthy();
  expect(screen.queryByRole("button", { name: "Try again" })).toBeNull();
});

test("a quick answer shows no spinner, a slow one does", async () => {
  const { unmount } = show(<Page ask={() => Promise.resolve("quick")} />);
  expect(screen.queryByRole("status", { name: "Loading" })).toBeNull();
  unmount();
  show(<Page ask={() => new Promise(() => undefined)} />);
  expect(await screen.findByRole("status", { name: "Loading" })).toBeTruthy();
});
