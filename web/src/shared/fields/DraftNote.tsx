import Button from "react-bootstrap/Button";
import { moment } from "../format";

type Props = { entry: { draft: { at: string | null; discard: () => void } | null }; className?: string };

/** Says that a form holds an earlier draft, from when it is, and offers to begin anew. */
export function DraftNote({ entry: { draft }, className = "mb-2" }: Props) {
  if (!draft) return null;
  return (
    <p className={`small text-secondary no-print ${className}`} data-draft={draft.at ?? ""}>
      Draft{draft.at && ` of ${moment(draft.at)}`} ·{" "}
      <Button variant="link" size="sm" className="p-0 align-baseline" onClick={draft.discard}>
        Discard
      </Button>
    </p>
  );
}
