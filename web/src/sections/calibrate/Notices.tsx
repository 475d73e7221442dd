import type { Schemas } from "../../shared/api/client";

/** What a person must know about the result, the gravest first. */
export function Notices({ notices }: { notices: Pick<Schemas["Notice"], "code" | "message">[] }) {
  if (!notices.length) return null;
  return (
    <ul className="notices" aria-label="What to know">
      {notices.map((notice) => (
        <li key={notice.code + notice.message} className={notice.code === "wrong-direction" || notice.code === "contradiction" ? "trouble" : "caution"} data-notice={notice.code}>
          {notice.message}
        </li>
      ))}
    </ul>
  );
}
