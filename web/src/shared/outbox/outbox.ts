/**
 * What was entered while the server could not be reached. It waits in this browser, over a closed tab and a restart, and is
 * sent in order under the key it was first sent with, so that nothing is lost or doubled.
 */
import { useSyncExternalStore } from "react";
import { answerOf, ApiError, sendAgain, type SentRequest } from "../api/client";
import { device, type Entry } from "./device";

type Snapshot = { entries: readonly Entry[]; sending: boolean };

let me: string | null = null;
let now: Snapshot = { entries: [], sending: false };
const listeners = new Set<() => void>();
const otherTabs = "BroadcastChannel" in globalThis ? new BroadcastChannel("setback-outbox") : null;
if (otherTabs) otherTabs.onmessage = () => void look();

/** Whose entries wait in this browser from now on; null where nobody is signed in, and nothing waits. */
export function waitFor(initials: string | null): void {
  if (me === initials) return;
  me = initials;
  void look();
}

export const canWait = (): boolean => me !== null;

function put(next: Partial<Snapshot>): void {
  now = { ...now, ...next };
  for (const tell of listeners) tell();
}

async function look(): Promise<void> {
  try {
    put({ entries: await (await device()).getAll("entries") });
  } catch {
    // The device could not be read this moment: what is known of it stays.
  }
}

async function changed(): Promise<void> {
  await look();
  otherTabs?.postMessage("changed");
}

/** Entries that wait in this browser, in the order in which they were made. */
export const useOutbox = (): Snapshot =>
  useSyncExternalStore(
    (tell) => {
      listeners.add(tell);
      return () => void listeners.delete(tell);
    },
    () => now,
  );

/** Whether something this person entered waits to be sent. */
export const somethingWaits = (): boolean => now.entries.some((one) => one.by === me && !one.refused);

/** Keep a request until the server can be reached. */
export async function keepEntry(key: string, request: SentRequest, words: string): Promise<void> {
  const entry: Omit<Entry, "id"> = {
    key,
    by: me ?? "",
    words,
    page: location.pathname,
    ...request,
    at: new Date().toISOString(),
    refused: null,
  };
  // The device gives the number.
  await (await device()).add("entries", entry as Entry);
  await changed();
}

export async function discard(entry: Entry): Promise<void> {
  await (await device()).delete("entries", entry.id);
  await changed();
}

/** What a request says, where it is no picture. */
export function saidIn(entry: SentRequest): Record<string, unknown> | null {
  if (!entry.type?.startsWith("application/json")) return null;
  try {
    return JSON.parse(new TextDecoder().decode(entry.body)) as Record<string, unknown>;
  } catch {
    return null;
  }
}

/** The same request with other fields. */
export const withFields = (request: SentRequest, fields: Record<string, unknown>): SentRequest => ({
  ...request,
  body: new TextEncoder().encode(
    JSON.stringify({ ...(JSON.parse(new TextDecoder().decode(request.body)) as object), ...fields }),
  ).buffer,
});

/** Send one entry, or one that was refused again with other fields; what is refused stays, with the reason. */
export async function sendEntry(
  entry: Entry,
  fields: Record<string, unknown> = {},
): Promise<"sent" | "refused" | "unreached"> {
  const request = Object.keys(fields).length ? withFields(entry, fields) : entry;
  try {
    await answerOf(await sendAgain(request, entry.key, (Date.now() - Date.parse(entry.at)) / 1000));
  } catch (caught) {
    const error = caught instanceof ApiError ? caught : new ApiError(0, String(caught));
    if (error.isRecorded) return await gone(entry);
    if ([0, 401, 429, 503].includes(error.status)) return "unreached";
    const { status, message, differences, over } = error;
    await (await device()).put("entries", { ...entry, refused: { status, message, differences, over } });
    await changed();
    return "refused";
  }
  return await gone(entry);
}

async function gone(entry: Entry): Promise<"sent"> {
  await discard(entry);
  return "sent";
}

type Counts = { sent: number; refused: number };
let underWay: Promise<Counts> | null = null;

/**
 * Send what waits, in order. What follows a refused entry on the same page waits with it. How many were sent, and how many were
 * refused.
 */
export function sendAll(): Promise<Counts> {
  underWay ??= oneTabAtATime(sendInOrder).finally(() => (underWay = null));
  return underWay;
}

async function sendInOrder(): Promise<Counts> {
  const counts = { sent: 0, refused: 0 };
  await look();
  if (!somethingWaits()) return counts;
  put({ sending: true });
  try {
    const stopped = new Set(now.entries.filter((one) => one.refused).map((one) => one.page));
    for (const entry of now.entries.filter((one) => one.by === me)) {
      if (entry.refused || stopped.has(entry.page)) continue;
      const outcome = await sendEntry(entry);
      if (outcome === "unreached") break;
      counts[outcome] += 1;
      if (outcome === "refused") stopped.add(entry.page);
    }
  } finally {
    put({ sending: false });
  }
  return counts;
}

/** Two tabs have one queue: the second waits until the first is done. Browsers without locks serve one tab. */
async function oneTabAtATime(step: () => Promise<Counts>): Promise<Counts> {
  const locks = navigator.locks as LockManager | undefined | null;
  return locks ? await locks.request("setback-outbox", step) : step();
}
