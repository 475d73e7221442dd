import { useEffect, type ReactNode } from "react";

/** Title, what is known about it in one line, and the page's actions, in the same place on every screen. */
export function PageHead({ title, sub, children }: { title: string; sub?: ReactNode; children?: ReactNode }) {
  useEffect(() => {
    document.title = `${title} · Setback`;
  }, [title]);
  return (
    <div className="page-head">
      <h1>{title}</h1>
      {sub && <span className="sub">{sub}</span>}
      {children && <div className="actions no-print">{children}</div>}
    </div>
  );
}
