import Form from "react-bootstrap/Form";
import type { Schemas } from "../../../shared/api/client";
import type { Way } from "./plan";

/** Three ways of printing a ladder; one the printer cannot do stays in sight and says why. */
export function WayChoice({ ways, way, onWay }: { ways: Schemas["WayView"][]; way: Way; onWay: (way: Way) => void }) {
  const chosen = ways.find((one) => one.key === way);
  return (
    <fieldset className="mb-2">
      <legend className="form-label">Print as</legend>
      {ways.map((one) => (
        <Form.Check
          key={one.key}
          type="radio"
          name="way"
          id={`way-${one.key}`}
          label={one.name}
          checked={one.key === way}
          disabled={Boolean(one.missing)}
          title={one.missing ?? one.gives}
          onChange={() => onWay(one.key as Way)}
        />
      ))}
      {chosen && (
        <p className="small text-secondary mb-0">
          {chosen.gives} {chosen.limit}
        </p>
      )}
    </fieldset>
  );
}
