/** Form state that survives a reload of the page in this tab; forgotten when it is saved. */
import { useState } from "react";

type Next<T> = T | ((held: T) => T);

export function useKept<T extends object | null>(key: string, initial: T): [T, (next: Next<T>) => void, () => void] {
  const place = `setback.kept.${key}`;
  const [value, setValue] = useState<T>(() => kept<T>(place) ?? initial);
  return [
    value,
    (next) =>
      setValue((held) => {
        const made = typeof next === "function" ? (next as (held: T) => T)(held) : next;
        sessionStorage.setItem(place, JSON.stringify(made));
        return made;
      }),
    () => sessionStorage.removeItem(place),
  ];
}

function kept<T>(place: string): T | null {
  try {
    return JSON.parse(sessionStorage.getItem(place) ?? "null") as T | null;
  } catch {
    return null;
  }
}
