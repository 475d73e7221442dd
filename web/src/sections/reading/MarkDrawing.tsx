import { useEffect, useMemo, useState } from "react";
import Button from "react-bootstrap/Button";
import ButtonGroup from "react-bootstrap/ButtonGroup";
import { type Background, CouponDrawing, type Plan } from "../../shared/coupon/CouponDrawing";
import type { Draft, Mode } from "./draft";
import type { Marking } from "./marking";

const MODES: [Mode, string, string][] = [
  ["series", "Series", "Tap the thinnest wall that stands and the narrowest slot still open, on each side"],
  ["single", "One by one", "Each tap goes round: formed, absent, in part, not read"],
  ["strike", "Strike out", "Tap what was lost in handling: it is not counted at all"],
];

const EACH_TIP = "Tap each tip: once for held, twice for let go";

type Props = {
  plan: Plan;
  draft: Draft;
  marking: Marking;
  code: string;
  exposure: string;
  /** A picture of this coupon, to be marked in place of its drawing. */
  picture?: Background | null;
};

/** The drawing a reading is marked on; on a phone its halves stand one above the other. */
export function MarkDrawing({ plan, draft, marking, code, exposure, picture }: Props) {
  const [showsPicture, setShowsPicture] = useState(true);
  const halves = useNarrow() && plan.width_mm > 20;
  const hasTips = plan.features.some((one) => one.kind === "tip");
  const drawing = {
    plan,
    states: draft.states,
    measured: draft.measured,
    code,
    exposure,
    onTap: marking.onTap,
    highlight: marking.focus,
    picture: picture && showsPicture ? picture : undefined,
  };
  return (
    <div className="plan">
      <div className="d-flex flex-wrap gap-2 align-items-center mb-2">
        <ButtonGroup className="modes" aria-label="What a tap means">
          {MODES.map(([value, name]) => (
            <Button
              key={value}
              variant={marking.mode === value ? "primary" : "quiet"}
              aria-pressed={marking.mode === value}
              onClick={() => marking.setMode(value)}
            >
              {name}
            </Button>
          ))}
        </ButtonGroup>
        <span className="text-secondary small flex-grow-1">
          {marking.mode === "series" && hasTips ? EACH_TIP : MODES.find(([value]) => value === marking.mode)?.[2]}.
        </span>
        {picture && (
          <Button variant="quiet" onClick={() => setShowsPicture(!showsPicture)}>
            {showsPicture ? "Show the drawing" : "Show the picture"}
          </Button>
        )}
      </div>
      {halves ? (
        <div className="d-grid gap-2">
          <CouponDrawing {...drawing} part={[0, plan.width_mm / 2]} label={`${plan.title}, left half`} />
          <CouponDrawing {...drawing} part={[plan.width_mm / 2, plan.width_mm]} label={`${plan.title}, right half`} />
        </div>
      ) : (
        <CouponDrawing {...drawing} label={`${plan.title} ${code}`} />
      )}
    </div>
  );
}

function useNarrow(): boolean {
  const query = useMemo(() => window.matchMedia("(max-width: 620px)"), []);
  const [narrow, setNarrow] = useState(query.matches);
  useEffect(() => {
    const follow = () => setNarrow(query.matches);
    query.addEventListener("change", follow);
    return () => query.removeEventListener("change", follow);
  }, [query]);
  return narrow;
}
