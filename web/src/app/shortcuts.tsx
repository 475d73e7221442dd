import { createContext, useContext, useEffect, useMemo, useRef, useState, type ReactNode } from "react";
import { useHotkeys } from "react-hotkeys-hook";

export type Shortcut = { keys: string; does: string; run?: () => void; hotkey?: string };
type Held = { shown: Shortcut[]; set: (shown: Shortcut[]) => void };
const Context = createContext<Held>({ shown: [], set: () => undefined });

/** Keys of the page on screen: shown in the bar at the foot and in the list behind `?`. */
export function ShortcutProvider({ children }: { children: ReactNode }) {
  const [shown, set] = useState<Shortcut[]>([]);
  const value = useMemo(() => ({ shown, set }), [shown]);
  return <Context.Provider value={value}>{children}</Context.Provider>;
}

export const useShownShortcuts = (): Shortcut[] => useContext(Context).shown;

/** Declare what keys do on this page. `hotkey` overrides how the keys are listened for. */
export function usePageKeys(shortcuts: Shortcut[]): void {
  const { set } = useContext(Context);
  const latest = useRef(shortcuts);
  latest.current = shortcuts;
  const signature = shortcuts.map((s) => `${s.keys} ${s.does} ${Boolean(s.run)}`).join("\n");
  useEffect(() => {
    set(latest.current);
    return () => set([]);
  }, [signature, set]);
  const listened = shortcuts.filter((s) => s.run).map((s) => s.hotkey ?? s.keys);
  useHotkeys(
    listened.length ? listened : ["f24"],
    (event, handler) => {
      if (document.querySelector(".modal.show")) return;
      const pressed = handler.keys?.join("") ?? "";
      const found = latest.current.find((s) => s.run && (s.hotkey ?? s.keys) === pressed);
      if (found) {
        event.preventDefault();
        found.run!();
      }
    },
    { preventDefault: false },
    [signature],
  );
}
