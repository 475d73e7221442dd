import { THIN } from "../../shared/format";

/** A bottle with its level drawn to scale. */
export function BottleLevel({ left, of }: { left: number; of: number }) {
  const share = Math.min(Math.max(left / of, 0), 1);
  const height = 24 * share;
  return (
    <span className="d-inline-flex align-items-center gap-2">
      <svg width="18" height="34" viewBox="0 0 18 34" aria-hidden="true">
        <rect x="2" y={31 - height} width="14" height={height} fill="var(--violet-mid)" opacity="0.75" />
        <path d="M6 1h6v4l4 3v24H2V8l4-3z" fill="none" stroke="var(--edge)" strokeWidth="1.5" />
      </svg>
      <span className="num">
        {Math.round(left)} of {Math.round(of)}
        {THIN}ml
      </span>
    </span>
  );
}
