/** The words of the job, each with a sentence and a drawing. A word is entered here and nowhere else. */
import type { ReactNode } from "react";

export type Word = { word: string; meaning: string; drawing: ReactNode };

const INK = { fill: "none", stroke: "var(--ink)", strokeWidth: 2 } as const;
const SOFT = { fill: "none", stroke: "var(--edge)", strokeWidth: 1.5 } as const;
const LIGHT = { fill: "var(--violet-mid)", opacity: 0.75 } as const;
const axis = <path d="M6 54h72m-5-4 5 4-5 4" {...SOFT} />;

export const GLOSSARY = {
  exposure: {
    word: "Exposure",
    meaning: "Seconds of light for each normal layer. More light hardens deeper and wider.",
    drawing: (
      <>
        <path d="M10 20h64v6H10z" {...LIGHT} />
        <path d="M22 50V32m20 18V32m20 18V32" stroke="var(--violet)" strokeWidth="3" />
        <path d="M10 56h64" {...INK} />
      </>
    ),
  },
  window: {
    word: "Process window",
    meaning: "The exposures at which every requirement holds: where all lanes overlap.",
    drawing: (
      <>
        <path d="M30 8h26v46H30z" {...LIGHT} />
        <path d="M30 16h46M6 30h50M14 43h50" stroke="var(--ink)" strokeWidth="5" />
        {axis}
      </>
    ),
  },
  lane: {
    word: "Lane",
    meaning: "One requirement over exposure: a bar from the least to the most light it allows.",
    drawing: (
      <>
        <path d="M24 28h38" stroke="var(--ink)" strokeWidth="8" />
        <path d="M14 28h10m38 0h10" stroke="var(--edge)" strokeWidth="8" strokeDasharray="2 2" />
        {axis}
      </>
    ),
  },
  latitude: {
    word: "Latitude",
    meaning: "How wide the window is, in percent: what a lamp may fade or a room may cool before parts fail.",
    drawing: (
      <>
        <path d="M24 14h36v40H24z" {...LIGHT} />
        <path d="M24 34h36m-30-5-6 5 6 5m24-10 6 5-6 5" {...INK} />
        {axis}
      </>
    ),
  },
  coupon: {
    word: "Coupon",
    meaning:
      "A small print with walls, slots and tips of known size. What it lost says whether the light was too little or too much.",
    drawing: (
      <>
        <rect x="8" y="16" width="68" height="34" rx="3" {...INK} />
        <path d="M18 22v16m8-16v16m9-16v16" stroke="var(--ink)" strokeWidth="3" />
        <path d="M50 30h18" stroke="var(--edge)" strokeWidth="5" />
        <path d="M50 42h18" stroke="var(--edge)" strokeWidth="2" />
      </>
    ),
  },
  range: {
    word: "Range",
    meaning: "The first coupons, spread in equal ratios from surely too little to surely too much light.",
    drawing: (
      <>
        <path d="M12 40h10v14H12zM28 34h10v20H28zM46 26h10v28H46zM64 14h10v40H64z" {...LIGHT} />
        {axis}
      </>
    ),
  },
  under: {
    word: "Underexposed",
    meaning: "Too little light: thin walls are missing, supports tear, layers part.",
    drawing: (
      <>
        <path d="M10 54h64" {...INK} />
        <path d="M20 54V22m14 32V28" stroke="var(--under)" strokeWidth="6" />
        <path d="M48 54V36m14 18v-8" stroke="var(--under)" strokeWidth="3" strokeDasharray="3 3" />
      </>
    ),
  },
  over: {
    word: "Overexposed",
    meaning: "Too much light: slots grow shut, details swell, parts come out wide.",
    drawing: (
      <>
        <path d="M10 20h64v30H10z" fill="none" stroke="var(--over)" strokeWidth="5" />
        <path d="M26 24v22m16-22v22m16-22v22" stroke="var(--over)" strokeWidth="6" />
        <path d="M26 30v10" stroke="var(--paper)" strokeWidth="2" />
      </>
    ),
  },
  growth: {
    word: "Edge growth",
    meaning: "How far light hardens resin beyond the edge of what was drawn, on each side.",
    drawing: (
      <>
        <rect
          x="24"
          y="14"
          width="36"
          height="36"
          fill="none"
          stroke="var(--edge)"
          strokeDasharray="3 3"
          strokeWidth="2"
        />
        <rect x="18" y="8" width="48" height="48" fill="none" stroke="var(--ink)" strokeWidth="2" />
        <path d="M60 32h6" stroke="var(--violet)" strokeWidth="3" />
      </>
    ),
  },
  nominal: {
    word: "Nominal-size exposure",
    meaning: "The exposure at which a part measures what was drawn.",
    drawing: (
      <>
        <path d="M8 46 76 14" {...INK} />
        <path d="M8 30h68" {...SOFT} strokeDasharray="3 3" />
        <circle cx="42" cy="30" r="5" fill="var(--violet)" />
        {axis}
      </>
    ),
  },
  depth: {
    word: "Penetration depth",
    meaning:
      "How far light reaches before two thirds of it is taken up: thick layers need a resin that lets it through.",
    drawing: (
      <>
        <path d="M8 12h68v44H8z" fill="var(--violet-mid)" opacity="0.3" />
        <path d="M42 4v30m-6-7 6 7 6-7" stroke="var(--violet)" strokeWidth="3" fill="none" />
        <path d="M8 36h68" {...SOFT} strokeDasharray="4 3" />
      </>
    ),
  },
  base: {
    word: "Base layers",
    meaning: "The first layers, lit several times longer so that the part holds to the plate.",
    drawing: (
      <>
        <path d="M8 8h68" stroke="var(--ink)" strokeWidth="5" />
        <path d="M18 14h48v6H18zM18 22h48v6H18z" {...LIGHT} />
        <path d="M26 31h32v4H26zM26 38h32v4H26zM26 45h32v4H26z" fill="var(--edge)" opacity="0.6" />
      </>
    ),
  },
  rest: {
    word: "Rest before light",
    meaning: "The wait after the plate is down: thick or cold resin must flow away before the layer is lit.",
    drawing: (
      <>
        <path d="M12 10h60v8H12z" fill="var(--edge)" />
        <path d="M16 34q26-16 52 0" {...INK} />
        <path d="M14 40H6m0 0 4-4m-4 4 4 4M70 40h8m0 0-4-4m4 4-4 4" {...INK} />
        <path d="M8 54h68" {...SOFT} />
      </>
    ),
  },
  lift: {
    word: "Lift",
    meaning: "How far and fast the plate rises to peel the layer off the film.",
    drawing: (
      <>
        <path d="M16 20h52v8H16z" fill="var(--edge)" />
        <path d="M42 18V6m-5 5 5-5 5 5" {...INK} />
        <path d="M8 50q34-16 68 0" {...INK} />
        <path d="M28 28h28v8H28z" {...LIGHT} />
      </>
    ),
  },
  tip: {
    word: "Support tip",
    meaning: "Where a support touches the part. Thin tips break away cleanly and need the most light to hold.",
    drawing: (
      <>
        <path d="M20 8h44v12H20z" {...LIGHT} />
        <path d="M32 56V30l2-10 2 10v26zM54 56V32l3-12 3 12v24z" {...INK} />
      </>
    ),
  },
  band: {
    word: "Temperature band",
    meaning: "The resin temperatures a set was shown to hold at. Cold resin needs more light and lets first layers go.",
    drawing: (
      <>
        <path d="M6 22h72v20H6z" {...LIGHT} />
        <path d="M6 36q12-14 24-2t24-4 24-2" {...INK} />
        {axis}
      </>
    ),
  },
  arm: {
    word: "Arm",
    meaning: "Coupons of one calibration that differ in one setting, such as another rest, to be compared fairly.",
    drawing: (
      <>
        <path d="M8 32h20m0 0 20-16h28M28 32l20 16h28" {...INK} />
        <path d="M58 10h10v12H58zM58 42h10v12H58z" {...LIGHT} />
      </>
    ),
  },
  set: {
    word: "Parameter set",
    meaning: "Settings issued for one material, printer and layer height, with the evidence they rest on.",
    drawing: (
      <>
        <rect x="20" y="6" width="44" height="52" rx="3" {...INK} />
        <path d="M28 18h28M28 27h28M28 36h18" {...SOFT} />
        <path d="m44 46 5 5 9-11" stroke="var(--good)" strokeWidth="3" fill="none" />
      </>
    ),
  },
  check: {
    word: "Check coupon",
    meaning: "One coupon at an issued exposure: it says whether the set still holds, and fills the printer's chart.",
    drawing: (
      <>
        <path d="M8 20h68M8 46h68" {...SOFT} strokeDasharray="3 3" />
        <path d="M12 34 24 30 36 36 48 31 60 35" {...INK} />
        <circle cx="60" cy="35" r="5" fill="var(--violet)" />
      </>
    ),
  },
  due: {
    word: "Due and lapsed",
    meaning: "Due: check it soon. Lapsed: something it rests on changed, so it must be checked or calibrated anew.",
    drawing: (
      <>
        <circle cx="24" cy="32" r="13" {...INK} />
        <path d="M24 19a13 13 0 0 1 0 26z" fill="var(--caution)" />
        <path d="m50 20 24 24m0-24L50 44" stroke="var(--bad)" strokeWidth="4" />
      </>
    ),
  },
  interval: {
    word: "± and interval",
    meaning: "How far off a number may be. 95 %: in nineteen of twenty cases the truth lies inside.",
    drawing: (
      <>
        <path d="M14 32h56M14 24v16M70 24v16" {...INK} />
        <circle cx="42" cy="32" r="6" fill="var(--violet)" />
      </>
    ),
  },
  bound: {
    word: "Tolerance bound",
    meaning:
      "The value most parts reach, allowing for how few were tested. A requirement is met when the bound meets it.",
    drawing: (
      <>
        <path d="M30 6v52" {...SOFT} strokeDasharray="3 3" />
        <path d="M38 14v38" stroke="var(--ink)" strokeWidth="2" />
        {[50, 56, 60, 64, 70].map((x, at) => (
          <circle key={x} cx={x} cy={[20, 32, 26, 40, 30][at]} r="3.5" fill="var(--violet)" />
        ))}
      </>
    ),
  },
  brief: {
    word: "Brief",
    meaning: "What a part must be able to do, as requirements with limits. A material qualifies against it.",
    drawing: (
      <>
        <rect x="16" y="6" width="52" height="52" rx="3" {...INK} />
        <path d="M24 18h6m4 0h26M24 31h6m4 0h26M24 44h6m4 0h26" {...SOFT} />
      </>
    ),
  },
} satisfies Record<string, Word>;

export type WordKey = keyof typeof GLOSSARY;

/** A word of the job, drawn. */
export const Drawing = ({ of }: { of: WordKey }) => (
  <svg viewBox="0 0 84 64" aria-hidden="true">
    {GLOSSARY[of].drawing}
  </svg>
);
