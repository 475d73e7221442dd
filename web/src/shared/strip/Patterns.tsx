/** Hatches for uncertainty and for conflict. */
export function Patterns() {
  return (
    <defs>
      <pattern id="hatch" width="5" height="5" patternUnits="userSpaceOnUse" patternTransform="rotate(45)">
        <line x1="0" y1="0" x2="0" y2="5" stroke="var(--violet-mid)" strokeWidth="1.6" />
      </pattern>
      <pattern id="conflict-hatch" width="8" height="8" patternUnits="userSpaceOnUse" patternTransform="rotate(-45)">
        <rect width="8" height="8" fill="var(--bad-wash)" />
        <line x1="0" y1="0" x2="0" y2="8" stroke="var(--bad)" strokeWidth="1.4" opacity="0.6" />
      </pattern>
    </defs>
  );
}
