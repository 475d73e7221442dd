import type { Schemas } from "../../shared/api/client";

/** What a person must know about the result, the gravest first. */
export function Notices({ notices }: { notices: Pick<Schemas["Notice"], "code" | "message">[] }) {
  if (!notices.length) return null;
  const codes = [...new Set(notices.map((notice) => notice.code))];
  return (
    <ul className="notices" aria-label="What to know">
      {codes.map((code) => (
        <li key={code} className={GRAVE.has(code) ? "trouble" : "caution"} data-notice={code}>
          {notices
            .filter((notice) => notice.code === code)
            .map((notice) => (
              <div key={notice.message}>{notice.message}</div>
            ))}
        </li>
      ))}
    </ul>
  );
}

const GRAVE = new Set(["wrong-direction", "contradiction", "no-ok", "no-step"]);
