/** Talks to the API with generated types; every failure becomes one ApiError with messages per field. */
import createClient from "openapi-fetch";
import { noteReached } from "../outbox/connection";
import type { components, paths } from "./schema";
import { noteWritten } from "./touched";

export type Schemas = components["schemas"];

/** What an error says beside its message. */
type Details = Partial<{
  fields: Record<string, string>;
  suggest: Record<string, number>;
  differences: { field: string; words: string; yours: string; theirs: string }[];
  over: Record<string, unknown>;
  recorded: boolean;
}>;

export class ApiError extends Error {
  readonly fields: Record<string, string>;
  readonly suggest: Record<string, number>;
  /** Of a stale edit: where it differs from what stands now. */
  readonly differences: NonNullable<Details["differences"]>;
  /** Of a stale edit: fields that save it over what stands now. */
  readonly over: Record<string, unknown> | null;
  /** It was recorded long ago, under this key: nothing is to be done. */
  readonly isRecorded: boolean;

  constructor(
    readonly status: number,
    message: string,
    details: Details = {},
    /** The change that was refused. */
    readonly sent?: SentRequest,
  ) {
    super(message);
    this.fields = details.fields ?? {};
    this.suggest = details.suggest ?? {};
    this.differences = details.differences ?? [];
    this.over = details.over ?? null;
    this.isRecorded = details.recorded ?? false;
  }
}

let technician: string | null = null;
export function workAs(initials: string | null): void {
  technician = initials;
}

/** A name of this tab: its own changes are no news to it. */
export const TAB = crypto.randomUUID();

let signedOut: () => void = () => undefined;
/** What to do when the server lets this browser in no more. */
export function whenSignedOut(step: () => void): void {
  signedOut = step;
}

// A server that takes this long is not coming back; the person should know and keep what was typed.
const PATIENCE_MS = 30_000;
/** What a proxy says while the server behind it does not answer. */
const NOBODY_BEHIND = [502, 504];
const NO_ANSWER = "The server does not answer. Nothing is lost: try again when it is back.";

/** A request as it went out: enough to send it again, or to let it wait. */
export type SentRequest = { method: string; path: string; type: string | null; body: ArrayBuffer };
const sentUnder = new Map<string, SentRequest>();
const KEY = "Idempotency-Key";
const goingOut = new Map<string, SentRequest>();
const sentFor = new WeakMap<Response, SentRequest>();

/** What was sent under a key and not taken yet. */
export const whatWasSent = (key: string): SentRequest | undefined => sentUnder.get(key);

function dress(headers: Headers, method: string): void {
  if (technician) headers.set("Setback-Technician", technician);
  if (method !== "GET") headers.set("Setback-Tab", TAB);
}

/** Under its own key and no other: a question that is asked meanwhile must not stand in the place of an entry. */
async function remember(request: Request, id?: string): Promise<void> {
  if (request.method === "GET") return;
  const key = request.headers.get(KEY);
  const { pathname, search } = new URL(request.url);
  const type = request.headers.get("Content-Type");
  const sent = {
    method: request.method,
    path: pathname + search,
    type,
    body: await request.clone().arrayBuffer(),
  };
  if (key) sentUnder.set(key, sent);
  if (id) goingOut.set(id, sent);
}

function noteAnswer(request: { method: string; headers: Headers }, response: Response): void {
  noteReached(!NOBODY_BEHIND.includes(response.status));
  if (response.status === 401) signedOut();
  if (request.method === "GET") return;
  noteWritten(response);
  if (response.ok) sentUnder.delete(request.headers.get(KEY) ?? "");
}

const client = createClient<paths>({
  baseUrl: "",
  querySerializer: { array: { style: "form", explode: false } },
  fetch: (request) => fetch(request, { signal: AbortSignal.timeout(PATIENCE_MS) }),
});
client.use({
  async onRequest({ request, id }) {
    dress(request.headers, request.method);
    await remember(request, id);
    return request;
  },
  onResponse({ request, response, id }) {
    const sent = goingOut.get(id);
    goingOut.delete(id);
    if (sent) sentFor.set(response, sent);
    noteAnswer(request, response);
  },
  onError({ id }) {
    goingOut.delete(id);
  },
});

export const { GET, POST, PUT } = client;

type Answer<T> = { data?: T; error?: unknown; response: Response };

/** The body of an answer, or an ApiError in the words of the server. */
export async function body<T>(asked: Promise<Answer<T>>, onAnswer?: (response: Response) => void): Promise<T> {
  let answer: Answer<T>;
  try {
    answer = await asked;
  } catch {
    noteReached(false);
    throw new ApiError(0, NO_ANSWER);
  }
  onAnswer?.(answer.response);
  if (answer.response.ok && answer.data !== undefined) return answer.data;
  throw asError(answer.response.status, answer.error, sentFor.get(answer.response));
}

function asError(status: number, answer: unknown, sent?: SentRequest): ApiError {
  if (NOBODY_BEHIND.includes(status)) return new ApiError(0, NO_ANSWER);
  // Answers that are no success have this shape; one from elsewhere (a proxy) may have none of it.
  const told = (answer as { error?: Details & { message?: string } } | undefined)?.error;
  return new ApiError(status, told?.message ?? `The server answered ${status}.`, told, sent);
}

/** What was caught, as something to show. */
export const asApiError = (caught: unknown): ApiError =>
  caught instanceof ApiError ? caught : new ApiError(0, caught instanceof Error ? caught.message : String(caught));

/** The JSON of an answer, or an ApiError in the words of the server. */
export async function answerOf<T>(response: Response, sent?: SentRequest): Promise<T> {
  const answer: unknown = await response.json().catch(() => undefined);
  if (!response.ok) throw asError(response.status, answer, sent);
  return answer as T;
}

/** A request that went out before, as it was, under its key; it may have waited since. */
export async function sendAgain(request: SentRequest, key: string, waitedS = 0): Promise<Response> {
  const headers = new Headers({ [KEY]: key, "Setback-Waited": String(Math.max(Math.round(waitedS), 0)) });
  if (request.type) headers.set("Content-Type", request.type);
  return post(request.path, request.method, headers, request.body);
}

async function post(path: string, method: string, headers: Headers, content: BodyInit): Promise<Response> {
  dress(headers, method);
  let response: Response;
  try {
    response = await fetch(path, { method, headers, body: content });
  } catch {
    noteReached(false);
    throw new ApiError(0, NO_ANSWER);
  }
  noteAnswer({ method, headers }, response);
  return response;
}

/** A large file as it is, without reading it into the page first. */
export async function send<T>(url: string, file: File): Promise<T> {
  return answerOf(await post(url, "POST", new Headers({ "Content-Type": "application/octet-stream" }), file));
}

/** One file as a multipart form. */
export async function upload<T>(url: string, name: string, file: File, sent: Record<string, string> = {}): Promise<T> {
  const form = new FormData();
  form.append(name, file);
  const headers = new Headers(sent);
  if (headers.has(KEY)) {
    // The form as bytes, so that it can wait as it would have gone.
    const made = new Request(new URL(url, location.href), { method: "POST", body: form, headers });
    await remember(made);
    const request = whatWasSent(headers.get(KEY) ?? "");
    if (request?.type) headers.set("Content-Type", request.type);
    return answerOf(await post(url, "POST", headers, request?.body ?? form));
  }
  return answerOf(await post(url, "POST", headers, form));
}
