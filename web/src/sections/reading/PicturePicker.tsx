import { useRef } from "react";
import Button from "react-bootstrap/Button";
import { ScannerChoice } from "./ScannerChoice";

type Props = {
  /** What the button says while nothing is read. */
  words: string;
  quiet?: boolean;
  reading: boolean;
  dpi: number | null;
  /** A photo of it cannot be read. */
  scansOnly?: boolean;
  onDpi: (dpi: number | null) => void;
  onPick: (file: File) => void;
};

/** A photo by the phone's own camera, or a scan with its resolution; the glass is cautioned at the step. */
export function PicturePicker({ words, quiet, reading, dpi, scansOnly, onDpi, onPick }: Props) {
  const picker = useRef<HTMLInputElement>(null);
  return (
    <>
      <div className="d-flex flex-wrap gap-2 align-items-end">
        <Button
          variant={quiet ? "quiet" : "outline-primary"}
          disabled={reading || (scansOnly && dpi === null)}
          onClick={() => picker.current?.click()}
        >
          {reading ? "Reading the picture…" : words}
        </Button>
        <ScannerChoice value={dpi} scansOnly={scansOnly} onChange={onDpi} />
        <input
          ref={picker}
          type="file"
          accept="image/jpeg,image/png"
          capture={dpi ? undefined : "environment"}
          hidden
          aria-label="Picture file"
          onChange={(event) => {
            const file = event.target.files?.[0];
            if (file) onPick(file);
            event.target.value = "";
          }}
        />
      </div>
      {scansOnly && dpi === null && (
        <p className="small text-secondary mt-2 mb-0">
          Off a scan alone: choose its resolution. In a photo loads stand too far above the floor; tap what held.
        </p>
      )}
      {dpi !== null && (
        <p className="caution mt-2 mb-0">Only a washed, dried and cured coupon touches the scanner’s glass.</p>
      )}
    </>
  );
}
