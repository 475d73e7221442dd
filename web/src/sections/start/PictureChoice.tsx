/** One of a few, each with a drawing: for what is seen sooner than read. */
import { useId, type ReactNode } from "react";

const line = { fill: "none", stroke: "var(--ink)", strokeWidth: 2 } as const;
const plate = <path d="M14 8h44" stroke="var(--ink)" strokeWidth="4" />;

const DRAWINGS: Record<string, ReactNode> = {
  "mono screen": (
    <>
      {plate}
      <path d="M10 36h52v6H10z" {...line} />
      <path d="M18 34V16m12 18V16m12 18V16m12 18V16" stroke="var(--violet)" strokeWidth="2" />
    </>
  ),
  "colour screen": (
    <>
      {plate}
      <path d="M10 36h52v6H10zM27 36v6M45 36v6" {...line} />
      <path d="M18 34V16m36 18V16" stroke="var(--violet)" strokeWidth="2" strokeDasharray="4 3" />
    </>
  ),
  projector: (
    <>
      {plate}
      <path d="M28 36h16v8H28z" {...line} />
      <path d="M32 35 18 14M40 35l14-21" stroke="var(--violet)" strokeWidth="2" />
    </>
  ),
  laser: (
    <>
      {plate}
      <path d="M8 38h14v6H8zM34 40l12-6" {...line} />
      <path d="M22 41h17M40 37 28 14" stroke="var(--violet)" strokeWidth="2" />
    </>
  ),
  simulated: (
    <>
      <path d="M14 8h44" stroke="var(--ink)" strokeWidth="4" strokeDasharray="6 4" />
      <path d="M10 36h52v6H10z" {...line} strokeDasharray="4 3" />
      <path d="M24 34V16m12 18V16m12 18V16" stroke="var(--violet)" strokeWidth="2" strokeDasharray="2 3" />
    </>
  ),
  opaque: <path d="M22 6h28v38H22z" fill="var(--edge)" stroke="var(--ink)" strokeWidth="2" />,
  tinted: <path d="M22 6h28v38H22z" fill="var(--violet-mid)" opacity="0.5" stroke="var(--ink)" strokeWidth="2" />,
  clear: (
    <>
      <path d="M22 6h28v38H22z" {...line} />
      <path d="M28 38 44 12M28 28l10-16" stroke="var(--rule)" strokeWidth="2" />
    </>
  ),
  solvent: (
    <>
      <path d="M16 14h40v30H16z" {...line} />
      <path d="M17 24h38v19H17z" fill="var(--edge)" opacity="0.4" />
      <path d="M30 6v22h12V6" {...line} />
    </>
  ),
  water: (
    <>
      <path d="M16 14h40v30H16z" {...line} />
      <path d="M17 28q6-5 12 0t12 0 14 0v15H17z" fill="var(--violet-mid)" opacity="0.6" />
    </>
  ),
};

type Props<Value extends string> = {
  label: string;
  value: Value;
  options: readonly (readonly [Value, string])[];
  onChange: (value: Value) => void;
};

export function PictureChoice<Value extends string>({ label, value, options, onChange }: Props<Value>) {
  const name = useId();
  return (
    <fieldset className="picture-choice">
      <legend className="form-label">{label}</legend>
      <div>
        {options.map(([one, word]) => (
          <label key={one} className={one === value ? "chosen" : undefined}>
            <input
              type="radio"
              className="visually-hidden"
              name={name}
              value={one}
              checked={one === value}
              onChange={() => onChange(one)}
            />
            <svg viewBox="0 0 72 50" aria-hidden="true">
              {DRAWINGS[one]}
            </svg>
            {word}
          </label>
        ))}
      </div>
    </fieldset>
  );
}
