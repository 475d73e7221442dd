import type { Schemas } from "../../shared/api/client";

type Key = Schemas["ReportInput"]["symptoms"][number];

/** Each sign as strokes on a plate with a part: `part` as it should be, `bad` what is wrong with it. */
const DRAWN: Record<Key, { part?: string; bad: string }> = {
  "parts-in-vat": { part: "M10 8v8M18 8v8M26 8v8", bad: "M34 40h20v-10h-20zM38 30v-4M46 30v-4" },
  "nothing-on-plate": { bad: "M14 16l36 24M50 16L14 40" },
  "supports-torn": { part: "M18 30h28v14H18z", bad: "M22 8v7l4 3M32 8v6M42 8v7l-4 3M22 30v-5M32 30v-8M42 30v-5" },
  "details-missing": { part: "M14 8v22h36V8", bad: "M24 30v10M32 30v4M40 30v10M30 38l4 4M34 38l-4 4" },
  "details-soft": { part: "M14 8v22h36V8", bad: "M20 30q2 10 6 0M30 30q2 6 5 0M39 30q2 10 6 0" },
  "details-grown-shut": {
    part: "M12 8h40v32H12z",
    bad: "M22 14v20M22 14h6v20h-6M36 14v20h6V14zM24 18h3M24 24h3M38 20h3M38 26h3",
  },
  "parts-stuck": { part: "M16 8h32v20H16z", bad: "M10 36l14-8M10 36l6 6M54 20l6 6M56 34l6-4M52 40l4 6" },
  "thick-first-layers": { part: "M22 18v24h20V18", bad: "M12 8h40v10H12zM12 13h40" },
  "blobs-on-film": { part: "M6 44h52", bad: "M16 44q4-10 10 0M34 44q6-14 14 0" },
  "one-side-missing": { part: "M14 8v32h18V8", bad: "M36 8v10M40 8v6M44 8v12M32 22l6 4M32 34l8-4" },
  "same-mark": { part: "M10 8h18v30H10zM36 8h18v30H36z", bad: "M16 24h6v6h-6zM42 24h6v6h-6z" },
  "layers-shifted": { part: "M18 8h24v14H18z", bad: "M26 22h24v18H26z" },
  "layers-split": { part: "M18 8h28v12H18zM18 28h28v14H18z", bad: "M16 24q8-6 16 0t16 0" },
  brittle: { part: "M12 8h16v30H12zM36 8h16v30H36z", bad: "M28 8l4 8-3 7 4 7-3 8" },
  tacky: { part: "M18 8h28v20H18z", bad: "M22 28v10M30 28v14M38 28v8M44 28v12" },
  "white-patches": { part: "M16 8h32v32H16z", bad: "M22 16q4-4 8 0t-2 7q-6 1-6-7M34 26q4-4 8 0t-2 7q-6 1-6-7" },
  warped: { part: "M10 8h44", bad: "M12 20q20 22 40 0M12 26q20 22 40 0M12 20v6M52 20v6" },
  "long-in-z": { part: "M22 8h20v24H22z", bad: "M22 32h20v10H22zM50 8v34M47 11l3-3 3 3M47 39l3 3 3-3" },
};

/** What is seen on a print, as a line drawing: the plate at the top, what is wrong in the warning colour. */
export function SymptomDrawing({ of }: { of: string }) {
  const drawn = DRAWN[of as Key];
  return (
    <svg className="symptom" viewBox="0 0 64 48" aria-hidden="true">
      <path className="plate" d="M4 6h56" />
      {drawn.part && <path className="part" d={drawn.part} />}
      <path className="bad" d={drawn.bad} />
    </svg>
  );
}
