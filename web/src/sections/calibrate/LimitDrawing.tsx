/** The coupons as a sketch, with the feature lit that a limit is about. */
export type LitFeature = "wall" | "slot" | "tip" | "size" | "depth" | null;

/** Which feature a limit is about, by the beginning of its name. */
export function featureOf(limit: string): LitFeature {
  if (limit.startsWith("walls")) return "wall";
  if (limit.startsWith("slots")) return "slot";
  if (limit.startsWith("tips") || limit.startsWith("fail_tip")) return "tip";
  if (limit.startsWith("growth")) return "size";
  return limit.startsWith("z_bloom") ? "depth" : null;
}

const NAMES: Record<NonNullable<LitFeature>, string> = {
  wall: "walls that stand",
  slot: "slots that stay open",
  tip: "support tips that hold",
  size: "edges where they were drawn",
  depth: "bridges light must not close",
};

export function LimitDrawing({ lit }: { lit: LitFeature }) {
  const ink = (feature: LitFeature) => (lit === feature ? "var(--violet)" : "var(--edge)");
  const width = (feature: LitFeature, usual: number) => (lit === feature ? usual + 1.5 : usual);
  return (
    <figure className="limit-drawing">
      <svg viewBox="0 0 300 110" role="img" aria-label={lit ? `Lit: ${NAMES[lit]}` : "The coupons"}>
        <rect
          x="4"
          y="14"
          width="180"
          height="82"
          rx="4"
          fill="none"
          stroke={ink("size")}
          strokeWidth={width("size", 2)}
        />
        {[16, 28, 41, 55, 70].map((x, at) => (
          <path key={x} d={`M${x} 24v26`} stroke={ink("wall")} strokeWidth={width("wall", 1 + at)} />
        ))}
        <path d="M98 24h76v26H98z" fill={ink("slot")} opacity={lit === "slot" ? 0.6 : 0.3} />
        {[108, 121, 135, 150, 165].map((x, at) => (
          <path key={x} d={`M${x} 24v26`} stroke="var(--panel)" strokeWidth={1 + at} />
        ))}
        <path
          d="M16 86V64h152v22M40 64v12M70 64v12M100 64v12M130 64v12"
          fill="none"
          stroke={ink("depth")}
          strokeWidth={width("depth", 1.5)}
        />
        <path d="M204 20h90v14h-90z" fill="var(--edge)" opacity="0.35" />
        {[214, 231, 249, 268, 286].map((x, at) => (
          <path
            key={x}
            d={`M${x - 4} 96V60L${x - (1 + at) / 2} 34h${1 + at}L${x + 4} 60v36z`}
            fill={lit === "tip" ? "var(--violet-mid)" : "none"}
            stroke={ink("tip")}
            strokeWidth={width("tip", 1.5)}
          />
        ))}
      </svg>
      <figcaption>{lit ? NAMES[lit] : "Each limit is one feature of these coupons"}</figcaption>
    </figure>
  );
}
