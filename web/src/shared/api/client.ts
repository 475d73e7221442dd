/** Talks to the API with generated types; every failure becomes one ApiError with messages per field. */
import createClient from "openapi-fetch";
import type { components, paths } from "./schema";
import { noteWritten } from "./touched";

export type Schemas = components["schemas"];

export class ApiError extends Error {
  constructor(
    readonly status: number,
    message: string,
    readonly fields: Record<string, string> = {},
    readonly suggest: Record<string, number> = {},
  ) {
    super(message);
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

const client = createClient<paths>({
  baseUrl: "",
  querySerializer: { array: { style: "form", explode: false } },
  fetch: (request) => fetch(request, { signal: AbortSignal.timeout(PATIENCE_MS) }),
});
client.use({
  onRequest({ request }) {
    if (technician) request.headers.set("Setback-Technician", technician);
    if (request.method !== "GET") request.headers.set("Setback-Tab", TAB);
    return request;
  },
  onResponse({ request, response }) {
    if (response.status === 401) signedOut();
    if (request.method !== "GET") noteWritten(response);
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
    throw new ApiError(0, "The server does not answer. Nothing is lost: try again when it is back.");
  }
  onAnswer?.(answer.response);
  if (answer.response.ok && answer.data !== undefined) return answer.data;
  throw asError(answer.response.status, answer.error);
}

function asError(status: number, answer: unknown): ApiError {
  // Answers that are no success have this shape; one from elsewhere (a proxy) may have none of it.
  const told = (answer as { error?: Partial<ApiError> } | undefined)?.error;
  return new ApiError(status, told?.message ?? `The server answered ${status}.`, told?.fields, told?.suggest);
}

/** What was caught, as something to show. */
export const asApiError = (caught: unknown): ApiError =>
  caught instanceof ApiError ? caught : new ApiError(0, caught instanceof Error ? caught.message : String(caught));

/** A large file as it is, without reading it into the page first. */
export async function send<T>(url: string, file: File): Promise<T> {
  const headers: Record<string, string> = {
    "Content-Type": "application/octet-stream",
    "Setback-Tab": TAB,
    ...(technician ? { "Setback-Technician": technician } : {}),
  };
  let response: Response;
  try {
    response = await fetch(url, { method: "POST", body: file, headers });
    noteWritten(response);
  } catch {
    throw new ApiError(0, "The file could not be sent. Try again.");
  }
  const answer: unknown = await response.json().catch(() => undefined);
  if (response.status === 401) signedOut();
  if (!response.ok) throw asError(response.status, answer);
  return answer as T;
}

/** One file as a multipart form. */
export async function upload<T>(url: string, name: string, file: File): Promise<T> {
  const form = new FormData();
  form.append(name, file);
  const headers: Record<string, string> = {
    "Setback-Tab": TAB,
    ...(technician ? { "Setback-Technician": technician } : {}),
  };
  let response: Response;
  try {
    response = await fetch(url, { method: "POST", body: form, headers });
    noteWritten(response);
  } catch {
    throw new ApiError(0, "The photo could not be sent. Try again.");
  }
  const answer: unknown = await response.json().catch(() => undefined);
  if (response.status === 401) signedOut();
  if (!response.ok) throw asError(response.status, answer);
  return answer as T;
}
