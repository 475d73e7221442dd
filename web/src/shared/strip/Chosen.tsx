import type { KeyboardEvent, PointerEvent } from "react";
import { exposure as asExposure, THIN } from "../format";
import type { Axis } from "./axis";
import { rangeOf } from "../plot/scale";

type ChosenProps = {
  axis: Axis;
  value: number;
  step: number;
  top: number;
  bottom: number;
  bounds: [number, number];
  onChoose?: (value: number) => void;
};

/** The chosen exposure: a line moved by pointer or arrow keys, one printer step at a time. */
export function Chosen({ axis, value, step, top, bottom, bounds, onChoose }: ChosenProps) {
  const x = axis(value);
  const snap = (raw: number) =>
    Number(Math.min(Math.max(Math.round(raw / step) * step, bounds[0]), bounds[1]).toFixed(6));
  function onKeyDown(event: KeyboardEvent) {
    const moves: Record<string, number> = {
      ArrowLeft: -1,
      ArrowDown: -1,
      ArrowRight: 1,
      ArrowUp: 1,
      PageDown: -5,
      PageUp: 5,
    };
    const steps = moves[event.key];
    if (steps !== undefined && onChoose) {
      event.preventDefault();
      event.stopPropagation();
      onChoose(snap(value + steps * step));
    }
  }
  function onPointerMove(event: PointerEvent<SVGGElement>) {
    if (!onChoose || !(event.buttons & 1)) return;
    const frame = event.currentTarget.ownerSVGElement?.getBoundingClientRect();
    if (!frame) return;
    onChoose(snap(axis.invert(event.clientX - frame.left)));
  }
  const text = `${asExposure(value, step)}${THIN}s`;
  const half = text.length * 5.4 + 8;
  const [left, right] = rangeOf(axis);
  const at = Math.min(Math.max(x, left + half - 14), right - half + 20);
  return (
    <g
      className="chosen"
      role="slider"
      tabIndex={onChoose ? 0 : -1}
      aria-label="Chosen exposure"
      aria-valuemin={bounds[0]}
      aria-valuemax={bounds[1]}
      aria-valuenow={value}
      aria-valuetext={`${value} seconds`}
      onKeyDown={onKeyDown}
      onPointerDown={(event) => event.currentTarget.setPointerCapture(event.pointerId)}
      onPointerMove={onPointerMove}
    >
      <line data-part="chosen" x1={x} x2={x} y1={top} y2={bottom} />
      <rect x={x - 11} y={top} width={22} height={bottom - top} style={{ fill: "transparent" }} />
      <rect x={at - half} y={bottom} width={2 * half} height={28} rx={6} />
      <text x={at} y={bottom + 20} textAnchor="middle">
        {text}
      </text>
    </g>
  );
}
