import {
  createContext,
  useCallback,
  useContext,
  useEffect,
  useId,
  useMemo,
  useRef,
  useState,
  type ReactNode,
} from "react";
import { useHotkeys } from "react-hotkeys-hook";

export type Shortcut = { keys: string; does: string; run?: () => void; hotkey?: string };
type Held = { shown: Shortcut[]; set: (from: string, keys: Shortcut[]) => void };
const Context = createContext<Held>({ shown: [], set: () => undefined });

/** Keys of the page on screen: shown in the bar at the foot and in the list behind `?`. */
export function ShortcutProvider({ children }: { children: ReactNode }) {
  // Several parts of a page may each declare keys.
  const [parts, setParts] = useState<Record<string, Shortcut[]>>({});
  const set = useCallback(
    (from: string, keys: Shortcut[]) =>
      setParts(({ [from]: _, ...rest }) => (keys.length ? { ...rest, [from]: keys } : rest)),
    [],
  );
  const value = useMemo(() => ({ shown: Object.values(parts).flat(), set }), [parts, set]);
  return <Context.Provider value={value}>{children}</Context.Provider>;
}

export const useShownShortcuts = (): Shortcut[] => useContext(Context).shown;

/** Declare what keys do on this page. `hotkey` overrides how the keys are listened for. */
export function usePageKeys(shortcuts: Shortcut[]): void {
  const { set } = useContext(Context);
  const from = useId();
  const latest = useRef(shortcuts);
  latest.current = shortcuts;
  const signature = shortcuts.map((s) => `${s.keys} ${s.does} ${Boolean(s.run)}`).join("\n");
  useEffect(() => {
    set(from, latest.current);
    return () => set(from, []);
  }, [signature, set, from]);
  const listened = shortcuts.filter((s) => s.run).map((s) => s.hotkey ?? s.keys);
  useHotkeys(
    listened.length ? listened : ["f24"],
    (event, handler) => {
      // A form that listened itself has done it already.
      if (document.querySelector(".modal.show") || event.defaultPrevented) return;
      const pressed = (handler.ctrl || handler.meta ? "ctrl+" : "") + (handler.keys?.join("") ?? "");
      const run = latest.current.find((s) => s.run && (s.hotkey ?? s.keys) === pressed)?.run;
      if (run) {
        event.preventDefault();
        run();
      }
    },
    { preventDefault: false },
    [signature],
  );
}
