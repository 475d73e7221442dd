import { useEffect, useState } from "react";

export type Theme = "system" | "light" | "safelight";
const KEY = "setback.theme";
const dark = window.matchMedia("(prefers-color-scheme: dark)");

function apply(theme: Theme): void {
  const safelight = theme === "safelight" || (theme === "system" && dark.matches);
  document.documentElement.dataset.bsTheme = safelight ? "safelight" : "light";
}

/** Light, safelight, or whatever the system asks for. */
export function useTheme(): [Theme, (theme: Theme) => void] {
  const [theme, setTheme] = useState<Theme>(() => (localStorage.getItem(KEY) as Theme | null) ?? "system");
  useEffect(() => {
    apply(theme);
    localStorage.setItem(KEY, theme);
    const follow = () => apply(theme);
    dark.addEventListener("change", follow);
    return () => dark.removeEventListener("change", follow);
  }, [theme]);
  return [theme, setTheme];
}
