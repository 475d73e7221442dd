import { memo } from "react";
import type { Schemas } from "../api/client";
import { size } from "../format";
import "./coupon.scss";

export type Plan = Schemas["CouponPlan"];
export type PlanFeature = Schemas["PlanFeature"];
export type FeatureState = "formed" | "partial" | "absent" | "lost";
export type States = Record<string, FeatureState | undefined>;

export const KIND_WORDS: Record<PlanFeature["kind"], { one: string; formed: string; absent: string }> = {
  wall: { one: "wall", formed: "stands", absent: "missing" },
  slot: { one: "slot", formed: "open", absent: "closed" },
  tip: { one: "tip", formed: "held", absent: "let go" },
  outer: { one: "bar", formed: "measured", absent: "not measured" },
  inner: { one: "notch", formed: "measured", absent: "not measured" },
  "z-gap": { one: "bridge", formed: "measured", absent: "not measured" },
};

type Props = {
  plan: Plan;
  states: States;
  measured?: Record<string, number | null | undefined>;
  code?: string;
  exposure?: string;
  onTap?: (feature: PlanFeature) => void;
  highlight?: string | null;
  label?: string;
  /** Only this part along X, in millimetres: a phone shows the halves one above the other. */
  part?: [number, number];
};

/** The coupon as it is printed, with what was seen on it. One drawing for reading, tray and card. */
export const CouponDrawing = memo(function CouponDrawing({
  plan,
  states,
  measured = {},
  code,
  exposure,
  onTap,
  highlight,
  label,
  part,
}: Props) {
  const [from, to] = part ?? [0, plan.width_mm];
  const kinds = new Map(plan.features.map((feature) => [feature.key, feature]));
  function tapAt(event: React.MouseEvent<SVGSVGElement>) {
    if (!onTap) return;
    const nearest = nearestFeature(plan, event, from, to);
    if (nearest) onTap(nearest);
  }
  return (
    <svg
      className={`coupon ${onTap ? "" : "still"}`}
      viewBox={`${from} 0 ${to - from} ${plan.height_mm}`}
      role={onTap ? "group" : "img"}
      aria-label={label ?? plan.title}
      onClick={tapAt}
    >
      {plan.shapes.map((shape, index) => {
        if (shape.role === "text") {
          const [x, y] = shape.points[0]!;
          const height = shape.points[2]![1] - y;
          const text = shape.text === "code" ? code : exposure;
          return text ? (
            <text key={index} className="text" x={x} y={y + height * 0.85} fontSize={height}>
              {text}
            </text>
          ) : null;
        }
        const state = shape.feature ? stateClass(shape.feature, states, measured, kinds) : "";
        return <polygon key={index} className={`${shape.role} ${state}`} points={shape.points.map((p) => p.join(",")).join(" ")} />;
      })}
      {plan.features.map((feature) => {
        const [x, y, width, height] = feature.hit;
        const state = states[feature.key];
        return (
          <g key={feature.key}>
            {state === "lost" && <line className="strike" x1={x} y1={y + height} x2={x + width} y2={y} />}
            {onTap && (
              <rect
                className={`hit ${highlight === feature.key ? "on" : ""}`}
                x={x}
                y={y}
                width={width}
                height={height}
                rx={0.3}
                role="button"
                tabIndex={-1}
                data-feature={feature.key}
                aria-label={featureLabel(feature, state, measured[feature.key])}
              />
            )}
          </g>
        );
      })}
    </svg>
  );
});

export function featureLabel(feature: PlanFeature, state?: FeatureState, measured?: number | null): string {
  const words = KIND_WORDS[feature.kind];
  const where = feature.side ?? (feature.axis ? `along ${feature.axis.toUpperCase()}` : "");
  const seen =
    measured !== null && measured !== undefined
      ? `${measured} mm`
      : state === "formed"
        ? words.formed
        : state === "absent"
          ? words.absent
          : state === "partial"
            ? "in part"
            : state === "lost"
              ? "lost in handling"
              : "not read";
  return `${size(feature.size_mm)} mm ${words.one} ${where}: ${seen}`;
}

function stateClass(
  key: string,
  states: States,
  measured: Record<string, number | null | undefined>,
  kinds: Map<string, PlanFeature>,
): string {
  const kind = kinds.get(key)?.kind;
  if (kind === "outer" || kind === "inner" || kind === "z-gap") {
    if (states[key] === "lost") return "lost";
    return measured[key] !== null && measured[key] !== undefined ? "measured" : "";
  }
  return states[key] ?? "unread";
}

/** The feature nearest to where was tapped: fingers are wider than features on a phone. */
function nearestFeature(plan: Plan, event: React.MouseEvent<SVGSVGElement>, from: number, to: number): PlanFeature | null {
  const direct = (event.target as Element).getAttribute("data-feature");
  if (direct) return plan.features.find((feature) => feature.key === direct) ?? null;
  const frame = event.currentTarget.getBoundingClientRect();
  const x = from + ((event.clientX - frame.left) / frame.width) * (to - from);
  const y = ((event.clientY - frame.top) / frame.height) * plan.height_mm;
  let best: PlanFeature | null = null;
  let distance = 2.5;
  for (const feature of plan.features) {
    const [left, top, width, height] = feature.hit;
    const away = Math.hypot(Math.max(left - x, 0, x - left - width), Math.max(top - y, 0, y - top - height));
    if (away < distance) [best, distance] = [feature, away];
  }
  return best;
}
