/** Whether the server answers, as the last request found it. */
import { useSyncExternalStore } from "react";

let reached = true;
const listeners = new Set<() => void>();

export function noteReached(isReached: boolean): void {
  if (reached === isReached) return;
  reached = isReached;
  for (const tell of listeners) tell();
}

export const isReached = () => reached;

export function whenReachedChanges(tell: () => void): () => void {
  listeners.add(tell);
  return () => void listeners.delete(tell);
}

export const useReached = (): boolean => useSyncExternalStore(whenReachedChanges, isReached);
