import { useState } from "react";
import Button from "react-bootstrap/Button";
import { KIND_WORDS, type FeatureState, type PlanFeature } from "../../shared/coupon/CouponDrawing";
import { around, PictureCrop } from "../../shared/coupon/PictureCrop";
import { millimetres, plural, size, THIN } from "../../shared/format";
import { type Draft, seen } from "./draft";
import type { Coupon, Picture } from "./model";

type Props = { coupon: Coupon; picture: Picture; draft: Draft; onDraft: (draft: Draft) => void };

/** What the picture does not show surely, one at a time and one tap each, largest first. */
export function PictureQuestions({ coupon, picture, draft, onDraft }: Props) {
  const [skipped, setSkipped] = useState<ReadonlySet<string>>(new Set());
  const open = coupon.plan.features.filter(
    (one) => picture.asked.includes(one.key) && !skipped.has(one.key) && !isAnswered(one, coupon, draft),
  );
  const feature = open.sort((a, b) => picture.asked.indexOf(a.key) - picture.asked.indexOf(b.key))[0];
  if (!feature) return <p className="mb-2">Nothing more is asked: look over the marks, then save.</p>;
  const mark = picture.marks.find((one) => one.key === feature.key);
  const kin = isOneOf(feature) ? coupon.plan.features.filter((one) => one.kind === feature.kind) : [feature];
  return (
    <div className="question mb-2" role="group" aria-label="Asked">
      <p className="mb-1">
        {plural(open.length, "mark")} to look at: {nameOf(feature)}
        {mark?.reason && <span className="text-secondary">, {mark.reason}</span>}
      </p>
      <PictureCrop
        picture={{ href: `/api/pictures/${picture.id}/straight`, marginMm: picture.margin_mm }}
        plan={coupon.plan}
        place={around(kin.map((one) => one.hit))}
        round={kin.length === 1 ? feature.hit : null}
        label={`In the picture: ${nameOf(feature)}`}
      />
      <div className="d-flex flex-wrap gap-2 mt-2">
        {isOneOf(feature)
          ? near(kin, feature).map((one) => (
              <Button
                key={one.key}
                variant={one === feature && mark?.state ? "outline-primary" : "quiet"}
                onClick={() => onDraft(seen(draft, coupon.plan, one))}
              >
                {one.kind === "legible" ? millimetres(one.size_mm) : kin.indexOf(one) + 1}
              </Button>
            ))
          : answersOf(feature).map(([state, word]) => (
              <Button
                key={state}
                variant={mark?.state === state ? "outline-primary" : "quiet"}
                onClick={() => onDraft({ ...draft, states: { ...draft.states, [feature.key]: state } })}
              >
                {word}
              </Button>
            ))}
        <Button variant="link" onClick={() => setSkipped(new Set([...skipped, feature.key]))}>
          Cannot tell
        </Button>
      </div>
    </div>
  );
}

const ONE_OF = ["vernier", "taper", "legible"];
const isOneOf = (feature: PlanFeature): boolean => ONE_OF.includes(feature.kind);

/** Of a vernier, a taper plug or the code in falling size any one of the row answers. */
function isAnswered(feature: PlanFeature, coupon: Coupon, draft: Draft): boolean {
  if (!isOneOf(feature)) return draft.states[feature.key] !== undefined;
  return coupon.plan.features.some((one) => one.kind === feature.kind && draft.states[one.key] === "formed");
}

/** The one the picture shows, with its neighbours; of the code all sizes. */
function near(kin: PlanFeature[], feature: PlanFeature): PlanFeature[] {
  if (feature.kind === "legible") return kin;
  const at = kin.indexOf(feature);
  return kin.slice(Math.max(at - 2, 0), at + 3);
}

function nameOf(feature: PlanFeature): string {
  if (feature.kind === "vernier") return "which pair of the vernier just touches";
  if (feature.kind === "taper") return "at which step the taper plug stopped";
  if (feature.kind === "legible") return "which is the smallest code still read";
  const where = feature.side ? `, ${feature.side}` : "";
  return `${size(feature.size_mm)}${THIN}mm ${KIND_WORDS[feature.kind].one}${where}`;
}

function answersOf(feature: PlanFeature): [FeatureState, string][] {
  const words = KIND_WORDS[feature.kind];
  if (feature.kind === "tip")
    return [
      ["formed", words.formed],
      ["absent", words.absent],
    ];
  return [
    ["formed", words.formed],
    ["partial", "in part"],
    ["absent", words.absent],
  ];
}
