import { memo } from "react";
import type { Schemas } from "../api/client";
import { size } from "../format";
import "./coupon.scss";
import { signOfUnit } from "../labForm";

export type Plan = Schemas["CouponPlan"];
export type PlanFeature = Schemas["PlanFeature"];
export type FeatureState = "formed" | "partial" | "absent" | "lost";
export type States = Record<string, FeatureState | undefined>;

export const KIND_WORDS: Record<PlanFeature["kind"], { one: string; formed: string; absent: string }> = {
  wall: { one: "wall", formed: "stands", absent: "missing" },
  slot: { one: "slot", formed: "open", absent: "closed" },
  tip: { one: "tip", formed: "held", absent: "let go" },
  outer: { one: "bar", formed: "measured", absent: "washed away" },
  inner: { one: "notch", formed: "measured", absent: "not measured" },
  "z-gap": { one: "bridge", formed: "measured", absent: "not measured" },
  vernier: { one: "vernier pair", formed: "just touches", absent: "not read" },
  fit: { one: "gauge piece", formed: "goes", absent: "does not go" },
  taper: { one: "step of the taper plug", formed: "the plug stopped here", absent: "not read" },
  legible: { one: "code", formed: "read", absent: "not legible" },
};

/** The place of the code's row of holes, which come with the code. */
const HOLES = "holes";

/** A straight picture of a coupon with its margin, and the features that are not sure on it. */
export type Background = { href: string; marginMm: number; unsure: ReadonlySet<string> };

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
  /** Letters beside the parts, for a legend. */
  callouts?: boolean;
  /** A picture of this coupon, laid straight, that shows in place of its shapes; marks are drawn over it. */
  picture?: Background;
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
  callouts,
  picture,
}: Props) {
  const [from, to] = part ?? [0, plan.width_mm];
  const kinds = new Map(plan.features.map((feature) => [feature.key, feature]));
  const unsure = (key: string | null) => key !== null && (picture?.unsure.has(key) ?? false);
  function tapAt(event: React.MouseEvent<SVGSVGElement>) {
    if (!onTap) return;
    const nearest = nearestFeature(plan, event);
    if (nearest) onTap(nearest);
  }
  return (
    <svg
      className={`coupon ${onTap ? "" : "still"} ${picture ? "pictured" : ""}`}
      viewBox={
        callouts
          ? `-1.6 -1.6 ${plan.width_mm + 3.2} ${plan.height_mm + 3.2}`
          : `${from} 0 ${to - from} ${plan.height_mm}`
      }
      role={onTap ? "group" : "img"}
      aria-label={label ?? plan.title}
      onClick={tapAt}
    >
      {picture && (
        <image
          href={picture.href}
          x={-picture.marginMm}
          y={-picture.marginMm}
          width={plan.width_mm + 2 * picture.marginMm}
          height={plan.height_mm + 2 * picture.marginMm}
        />
      )}
      {plan.shapes.map((shape, index) => {
        if (picture && (!shape.feature || shape.role === "text" || shape.role === "label")) return null;
        if (shape.text === HOLES) return null;
        if (shape.role === "text" || shape.role === "label") {
          const [first, , third] = shape.points;
          if (!first || !third) return null;
          const [x, y] = first;
          const height = third[1] - y;
          const text = shape.role === "label" ? shape.text : shape.text === "code" ? code : exposure;
          return text ? (
            <text
              key={index}
              className={`text ${shape.feature && states[shape.feature] === "absent" ? "faint" : ""}`}
              x={x}
              y={y + height * 0.85}
              fontSize={height}
            >
              {text}
            </text>
          ) : null;
        }
        const state = shape.feature ? stateClass(shape.feature, states, measured, kinds) : "";
        return (
          <polygon
            key={index}
            className={`${shape.role} ${state}${unsure(shape.feature) ? " unsure" : ""}`}
            points={shape.points.map((p) => p.join(",")).join(" ")}
          />
        );
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
      {callouts &&
        plan.parts?.map((one, index) => {
          const [x, y, width, height] = one.place;
          const size = Math.max(plan.width_mm / 26, 1.2);
          return (
            <g key={one.name} className="callout">
              <rect x={x} y={y} width={width} height={height} rx={size / 4} />
              <circle cx={x} cy={y} r={size * 0.62} />
              <text x={x} y={y + size * 0.34} fontSize={size} textAnchor="middle">
                {letterOf(index)}
              </text>
            </g>
          );
        })}
    </svg>
  );
});

export const letterOf = (index: number): string => String.fromCharCode(65 + index);

export function featureLabel(feature: PlanFeature, state?: FeatureState, measured?: number | null): string {
  const words = KIND_WORDS[feature.kind];
  const where = feature.side ?? (feature.axis ? `along ${feature.axis.toUpperCase()}` : "");
  const seen =
    measured !== null && measured !== undefined
      ? `${size(measured)} ${signOfUnit("mm")}`
      : state === "formed"
        ? words.formed
        : state === "absent"
          ? words.absent
          : state === "partial"
            ? feature.kind === "fit"
              ? "tight"
              : "in part"
            : state === "lost"
              ? "lost in handling"
              : "not read";
  const drawn =
    feature.kind === "vernier" || feature.kind === "taper"
      ? `${feature.size_mm > 0 ? "gap" : feature.size_mm < 0 ? "overlap" : "no gap"} ${size(Math.abs(feature.size_mm))}`
      : size(feature.size_mm);
  return `${drawn} ${signOfUnit("mm")} ${words.one} ${where}: ${seen}`;
}

function stateClass(
  key: string,
  states: States,
  measured: Record<string, number | null | undefined>,
  kinds: Map<string, PlanFeature>,
): string {
  const kind = kinds.get(key)?.kind;
  if (kind === "outer" || kind === "inner" || kind === "z-gap") {
    if (states[key] === "lost" || states[key] === "absent") return states[key];
    return measured[key] !== null && measured[key] !== undefined ? "measured" : "";
  }
  if (kind === "vernier" || kind === "taper" || kind === "legible") return states[key] === "formed" ? "picked" : "";
  if (kind === "fit") return states[key] ? "picked" : "";
  return states[key] ?? "unread";
}

/** The feature nearest to where was tapped: fingers are wider than features on a phone. */
function nearestFeature(plan: Plan, event: React.MouseEvent<SVGSVGElement>): PlanFeature | null {
  const direct = (event.target as Element).getAttribute("data-feature");
  if (direct) return plan.features.find((feature) => feature.key === direct) ?? null;
  const toScreen = event.currentTarget.getScreenCTM();
  if (!toScreen) return null;
  const { x, y } = new DOMPoint(event.clientX, event.clientY).matrixTransform(toScreen.inverse());
  let best: PlanFeature | null = null;
  let distance = 2.5;
  for (const feature of plan.features) {
    const [left, top, width, height] = feature.hit;
    const away = Math.hypot(Math.max(left - x, 0, x - left - width), Math.max(top - y, 0, y - top - height));
    if (away < distance) [best, distance] = [feature, away];
  }
  return best;
}

/** The coupon as it should come out. */
export function allFormed(plan: Plan): States {
  const keys = [
    ...plan.features.map((feature) => feature.key),
    ...plan.shapes.flatMap((shape) => (shape.feature ? [shape.feature] : [])),
  ];
  return Object.fromEntries(keys.map((key) => [key, "formed"]));
}
