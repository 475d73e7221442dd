import { createContext, useContext, useMemo, useState, type ReactNode } from "react";
import { workAs } from "../shared/api/client";

type Who = { initials: string | null; choose: (initials: string | null) => void };
const Context = createContext<Who>({ initials: null, choose: () => undefined });
export const useTechnician = (): Who => useContext(Context);
const KEY = "setback.technician";

/** Who works at this browser; kept over reloads, sent with every request. */
export function TechnicianProvider({ children }: { children: ReactNode }) {
  const [initials, setInitials] = useState<string | null>(() => {
    const held = localStorage.getItem(KEY);
    workAs(held);
    return held;
  });
  const value = useMemo<Who>(
    () => ({
      initials,
      choose(next) {
        workAs(next);
        if (next) localStorage.setItem(KEY, next);
        else localStorage.removeItem(KEY);
        setInitials(next);
      },
    }),
    [initials],
  );
  return <Context.Provider value={value}>{children}</Context.Provider>;
}
