import type { ReactNode } from "react";

/** An empty place: what it is for in one sentence, and the one action that starts it. */
export function EmptyState({ purpose, children }: { purpose: string; children?: ReactNode }) {
  return (
    <div className="empty">
      <p>{purpose}</p>
      {children}
    </div>
  );
}
