import { STEPS, type Arm, type Step } from "./model";

const OPTIONAL: Step[] = ["depth", "first-layer", "confirm"];

/** Where the work stands; earlier steps stay readable. */
export function Trail({
  stage,
  done,
  step,
  onStep,
}: {
  stage: Arm["stage"];
  done: string[];
  step: Step;
  onStep: (step: Step) => void;
}) {
  const reached = stage === "issued" ? STEPS.length : STEPS.findIndex((one) => one.path === stage);
  // A campaign may go without these; what was confirmed was decided on before.
  const past = (path: Step, index: number) =>
    OPTIONAL.includes(path) ? done.includes(path) : index < reached || (path === "decide" && done.includes("confirm"));
  return (
    <ol className="trail no-print" aria-label="Steps">
      {STEPS.map((one, index) => (
        <li key={one.path} className={step === one.path ? "here" : past(one.path, index) ? "done" : "ahead"}>
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
