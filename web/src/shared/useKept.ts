/** State that survives a reload of the page in this tab; forgotten when it is saved. */
import { useState } from "react";

type Next<T> = T | ((before: T) => T);

export function useKept<T extends object | null>(key: string, initial: T): [T, (next: Next<T>) => void, () => void] {
  const [value, setValue] = useState<T>(() => readKept<T>(key) ?? initial);
  return [
    value,
    (next) =>
      setValue((before) => {
        const after = typeof next === "function" ? next(before) : next;
        keep(key, after);
        return after;
      }),
    () => forgetKept(key),
  ];
}

/** Where something entered is kept until it is saved. */
export type Keeper<T> = {
  read: () => Partial<T> | null;
  keep: (value: Partial<T>) => void;
  forget: () => void;
  /** When it was last kept; null where nothing is. */
  at: () => string | null;
};

/** Kept in this tab, over a reload of its page. */
export const keptInTab = <T>(key: string): Keeper<T> => ({
  read: () => readKept<T>(key),
  keep: (value) => keep(key, value),
  forget: () => forgetKept(key),
  at: () => sessionStorage.getItem(momentOf(key)),
});

const placeOf = (key: string) => `setback.kept.${key}`;
const momentOf = (key: string) => `setback.kept-at.${key}`;

export function keep(key: string, value: unknown): void {
  sessionStorage.setItem(placeOf(key), JSON.stringify(value));
  sessionStorage.setItem(momentOf(key), new Date().toISOString());
}

export function forgetKept(key: string): void {
  sessionStorage.removeItem(placeOf(key));
  sessionStorage.removeItem(momentOf(key));
}

export function readKept<T>(key: string): T | null {
  try {
    return JSON.parse(sessionStorage.getItem(placeOf(key)) ?? "null") as T | null;
  } catch {
    return null;
  }
}
