/** Copies of answers, to be read while the server cannot be reached; gone as soon as it lets this browser in no more. */
import { device } from "./device";

const KEPT_DAYS = 14;
const SESSION = "/api/session";
/** Of these nothing is to be seen later. */
const NEVER = ["/api/together", "/api/jobs/{job_id}", "/api/instruments"];

/** Null until the server has said whether somebody is signed in. */
let keeps: boolean | null = null;
let shownOf: string | null = null;

/** Whether somebody is signed in: only then anything is kept. */
export function keepCopies(isSignedIn: boolean): void {
  if (keeps === isSignedIn) return;
  keeps = isSignedIn;
  if (!isSignedIn) void forgetCopies();
}

export const keepsCopies = (): boolean => keeps === true;

/** When the oldest answer was fetched that is shown in the place of the server's; null while it answers. */
export const shownFrom = (): string | null => shownOf;
export function nothingOldShown(): void {
  shownOf = null;
}

/** The answer by which it becomes known who is signed in is kept too: the app opens without the server. */
const isKept = (path: string, data: unknown): boolean =>
  path === SESSION ? Boolean((data as { signed_in: unknown }).signed_in) : keeps !== false;

export async function keepCopy(path: string, hash: string, data: unknown): Promise<void> {
  if (NEVER.includes(path) || !isKept(path, data)) return;
  try {
    await (await device()).put("copies", { hash, data, at: new Date().toISOString() });
  } catch {
    // A browser without room or without a database shows what the server answers, and no more.
  }
}

/** What the server last answered, where it is kept. */
export async function copyOf(hash: string): Promise<{ data: unknown } | null> {
  try {
    const copy = await (await device()).get("copies", hash);
    if (!copy) return null;
    if (shownOf === null || copy.at < shownOf) shownOf = copy.at;
    return { data: copy.data };
  } catch {
    return null;
  }
}

async function forgetCopies(): Promise<void> {
  try {
    await (await device()).clear("copies");
  } catch {
    // Then there were none.
  }
}

/** Lets copies go that nobody asked for lately. */
export async function tidyCopies(): Promise<void> {
  const before = new Date(Date.now() - KEPT_DAYS * 86_400_000).toISOString();
  try {
    const change = (await device()).transaction("copies", "readwrite");
    for await (const cursor of change.store) if (cursor.value.at < before) await cursor.delete();
    await change.done;
  } catch {
    // Then there are none.
  }
}
