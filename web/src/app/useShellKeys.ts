import { useEffect } from "react";
import { useHotkeys } from "react-hotkeys-hook";
import { useNavigate } from "react-router";
import { SECTIONS } from "./sections";

/** Keys that work on every page: `/` and a typed or scanned code find, `?` lists keys, `g` and a letter goes to a section. */
export function useShellKeys(find: (start: string) => void, help: () => void): void {
  const navigate = useNavigate();
  useHotkeys(
    SECTIONS.map((section) => `g>${section.key}`),
    (_, handler) => {
      const section = SECTIONS.find((one) => one.key === handler.keys?.at(-1));
      if (section) void navigate(section.path);
    },
  );
  useEffect(() => {
    // By the character, not the place of its key: on many keyboards `/` and `?` are typed with others.
    // Coupon codes start with a digit, so a typed or scanned code never meets a letter shortcut.
    function onKey(event: KeyboardEvent) {
      const target = event.target as HTMLElement;
      const busy =
        target.closest("input, textarea, select, [role=slider], .modal") ||
        event.ctrlKey ||
        event.metaKey ||
        event.altKey;
      if (busy || !/^[0-9/?]$/.test(event.key)) return;
      event.preventDefault();
      if (event.key === "?") help();
      else find(event.key === "/" ? "" : event.key);
    }
    window.addEventListener("keydown", onKey);
    return () => window.removeEventListener("keydown", onKey);
  }, [find, help]);
}
