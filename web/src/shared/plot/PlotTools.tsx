import type { RefObject } from "react";
import Button from "react-bootstrap/Button";
import { saveDrawing } from "./save";

/** A chart can be kept as a picture. */
export function PlotTools({ figure, name }: { figure: RefObject<HTMLElement | null>; name: string }) {
  return (
    <figcaption className="plot-tools no-print">
      {(["svg", "png"] as const).map((kind) => (
        <Button
          key={kind}
          variant="link"
          size="sm"
          aria-label={`Save ${name} as ${kind.toUpperCase()}`}
          onClick={() => void saveDrawing(figure.current, name, kind)}
        >
          {kind.toUpperCase()}
        </Button>
      ))}
    </figcaption>
  );
}
