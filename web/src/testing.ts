import { cleanup, configure } from "@testing-library/react";
import { afterEach, vi } from "vitest";

// A slow machine is slow, not red: nothing is given up on before half a minute.
configure({ asyncUtilTimeout: 30_000 });

afterEach(() => {
  cleanup();
  vi.unstubAllGlobals();
  localStorage.clear();
  sessionStorage.clear();
});

// What a page asks for after its test is over reaches no network.
globalThis.fetch = () => Promise.reject(new TypeError("There is no server in a component test."));

// A browser knows where it is; Node's requests want to be told.
const NodeRequest = globalThis.Request;
globalThis.Request = class extends NodeRequest {
  constructor(input: RequestInfo | URL, init?: RequestInit) {
    super(typeof input === "string" ? new URL(input, "http://setback.test") : input, init);
  }
};

// It has neither of these; pages ask for the theme of the system and scroll to their top.
const nothing = () => undefined;
window.matchMedia = ((query: string) => ({
  matches: false,
  media: query,
  addEventListener: nothing,
  removeEventListener: nothing,
  addListener: nothing,
  removeListener: nothing,
})) as unknown as typeof window.matchMedia;
window.scrollTo = nothing;
