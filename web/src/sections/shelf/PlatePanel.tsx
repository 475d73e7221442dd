import { useState } from "react";
import Form from "react-bootstrap/Form";
import { ApiError, type Schemas } from "../../shared/api/client";
import { NumberField } from "../../shared/fields/NumberField";
import { SizesField } from "../../shared/fields/SizesField";
import { PlateDrawing } from "../../shared/plate/PlateDrawing";
import { Trouble } from "../../shared/Trouble";
import { useGet } from "../../shared/api/useGet";

type Asked = Record<string, unknown> & { kind: string };
type Props = {
  asked: Asked;
  printer: Schemas["Printer"];
  exposures: number[] | null;
  onExposures: (values: number[] | null) => void;
};

/** Several exposures on one plate, shuffled so that place and exposure are not one thing. */
export function PlatePanel({ asked, printer, exposures, onExposures }: Props) {
  const [repeats, setRepeats] = useState<number | null>(1);
  const [seed, setSeed] = useState(1);
  const query = exposures
    ? {
        ...asked,
        exposures_s: exposures,
        plate_x_mm: printer.plate_x_mm,
        plate_y_mm: printer.plate_y_mm,
        repeats: repeats ?? 1,
        seed,
      }
    : null;
  const plate = useGet("/api/coupon-plate", query && { params: { query } }, { retry: false });
  const error = plate.error instanceof ApiError ? plate.error : null;
  const said =
    error?.fields.exposures_s ??
    Object.entries(error?.fields ?? {}).find(([name]) => name.startsWith("exposures_s"))?.[1];
  const file = (format: string) =>
    `/api/coupon-plate/file?${new URLSearchParams(Object.entries(query ?? {}).map(([name, value]) => [name, String(value)])).toString()}&format=${format}`;
  return (
    <section className="panel plate" aria-label="Several exposures on one plate">
      <h2>Several exposures on one plate</h2>
      {!printer.several_exposures && (
        <p className="caution">
          {printer.name} is not known to take several exposures on one plate. Its masks are lit in turns: check that its
          software can do that.
        </p>
      )}
      <div className="fields">
        <SizesField
          label="Exposures"
          unit="s"
          values={exposures}
          onChange={onExposures}
          error={said}
          hint="Spaces between"
        />
        <NumberField label="Each how often" value={repeats} onChange={setRepeats} error={error?.fields.repeats} />
        <Form.Group>
          <Form.Label className="d-block">Places</Form.Label>
          <button type="button" className="btn btn-quiet" onClick={() => setSeed(seed + 1)}>
            Shuffle again
          </button>
        </Form.Group>
      </div>
      {!said && <Trouble error={error} />}
      {plate.data && (
        <>
          <PlateDrawing
            width_mm={plate.data.plate_x_mm}
            height_mm={plate.data.plate_y_mm}
            step={printer.exposure_step_s}
            places={plate.data.places.map((place) => ({
              ...place,
              width_mm: plate.data.width_mm,
              height_mm: plate.data.height_mm,
            }))}
          />
          <p className="text-secondary small">
            {plate.data.places.length} of {plate.data.fits} places taken. Without a map of the plate such a plate only
            finds the range: place and exposure mix.
          </p>
          <div className="d-flex gap-2">
            <a className="btn btn-quiet btn-sm d-inline-flex align-items-center" href={file("masks")} download>
              Masks with manifest
            </a>
            <a className="btn btn-quiet btn-sm d-inline-flex align-items-center" href={file("svg")} download>
              Plate as SVG
            </a>
          </div>
        </>
      )}
    </section>
  );
}
