import { STEPS, type Arm, type Step } from "./model";

/** Where the work stands; earlier steps stay readable. */
export function Trail({ stage, step, onStep }: { stage: Arm["stage"]; step: Step; onStep: (step: Step) => void }) {
  const reached = stage === "issued" ? 4 : STEPS.findIndex((one) => one.path === stage);
  return (
    <ol className="trail no-print" aria-label="Steps">
      {STEPS.map((one, index) => (
        <li key={one.path} className={step === one.path ? "here" : index < reached ? "done" : "ahead"}>
          <a
            href={`?step=${one.path}`}
            aria-current={step === one.path ? "step" : undefined}
            onClick={(event) => {
              event.preventDefault();
              onStep(one.path);
            }}
          >
            {one.name}
          </a>
        </li>
      ))}
    </ol>
  );
}
