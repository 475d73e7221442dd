import { useQueryClient } from "@tanstack/react-query";
import { createContext, useContext, useEffect, useMemo, useState, type ReactNode } from "react";
import { type Schemas, whenSignedOut, workAs } from "../../shared/api/client";
import { useGet } from "../../shared/api/useGet";
import { keepCopies } from "../../shared/outbox/copies";
import { waitFor } from "../../shared/outbox/outbox";

export type Session = Schemas["SessionView"];
type Who = {
  initials: string | null;
  choose: (initials: string | null) => void;
  /** How this server knows people; undefined until it has said so. */
  session: Session | undefined;
  isKnown: boolean;
  /** When it said so, by this device's clock, ms. */
  answeredAt: number;
  /** Asks the server anew, after somebody came or went; every page is fetched again. */
  changed: () => Promise<void>;
};
const Context = createContext<Who>({
  initials: null,
  choose: () => undefined,
  session: undefined,
  // Where nothing provides this, nobody is asked to sign in.
  isKnown: true,
  answeredAt: 0,
  changed: () => Promise.resolve(),
});
export const useTechnician = (): Who => useContext(Context);
const KEY = "setback.technician";

/** Who works at this browser: chosen here and sent with every request, or whoever is signed in where people sign in. */
export function TechnicianProvider({ children }: { children: ReactNode }) {
  const queries = useQueryClient();
  const asked = useGet("/api/session", {}, { staleTime: 60_000, retry: false });
  const session = asked.data;
  const isKnown = !asked.isPending;
  const signedIn = session?.asks ? (session.signed_in?.initials ?? null) : null;
  if (session) {
    // Before a page asks or sends anything: where one person works at their own machine nothing is kept and nothing waits.
    keepCopies(signedIn !== null);
    waitFor(signedIn);
  }
  const answeredAt = asked.dataUpdatedAt;
  const [chosen, setChosen] = useState<string | null>(() => {
    const kept = localStorage.getItem(KEY);
    workAs(kept);
    return kept;
  });
  useEffect(() => whenSignedOut(() => void queries.invalidateQueries({ queryKey: ["/api/session"] })), [queries]);
  const value = useMemo<Who>(
    () => ({
      initials: session?.asks ? signedIn : chosen,
      session,
      isKnown,
      answeredAt,
      choose(next) {
        workAs(next);
        if (next) localStorage.setItem(KEY, next);
        else localStorage.removeItem(KEY);
        setChosen(next);
      },
      changed: () => queries.invalidateQueries(),
    }),
    [session, signedIn, isKnown, answeredAt, chosen, queries],
  );
  return <Context.Provider value={value}>{children}</Context.Provider>;
}
