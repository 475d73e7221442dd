import { keepPreviousData } from "@tanstack/react-query";
import { useState } from "react";
import { Link } from "react-router";
import { PageHead } from "../../app/PageHead";
import { type Schemas } from "../../shared/api/client";
import { allFormed, CouponDrawing } from "../../shared/coupon/CouponDrawing";
import { FileLinks } from "../../shared/coupon/FileLinks";
import { Choice } from "../../shared/fields/Choice";
import { NumberField } from "../../shared/fields/NumberField";
import { millilitres, THIN } from "../../shared/format";
import { Loaded } from "../../shared/Loading";
import { ShelfTabs } from "./ShelfTabs";
import "./coupons.scss";
import { useGet } from "../../shared/api/useGet";

type Entry = Schemas["LibraryEntry"];

/** Every coupon and specimen as this printer's pixels draw it, with the files to print it. */
export default function CouponsPage() {
  const [printerId, setPrinterId] = useState("");
  const [layer, setLayer] = useState<number | null>(50);
  const printers = useGet(
    "/api/printers",
    { params: { query: { retired: false, limit: 200, after: "" } } },
    { select: (answer) => answer.items },
  );
  const printer = printers.data?.find((one) => one.id === printerId) ?? printers.data?.[0];
  const pixel = printer?.pixel_um ?? 35;
  const library = useGet(
    "/api/coupon-kinds",
    { params: { query: { pixel_um: pixel, layer_um: layer ?? 50 } } },
    { enabled: printers.data !== undefined && layer !== null, placeholderData: keepPreviousData, retry: false },
  );
  const problem =
    library.error && "fields" in library.error ? (library.error as { fields: Record<string, string> }).fields : {};
  return (
    <>
      <PageHead title="Shelf" sub="Coupons and specimens to print">
        <Link className="btn btn-quiet" to="/shelf/coupons/own">
          Your own coupons
        </Link>
      </PageHead>
      <div className="mb-3">
        <ShelfTabs here="coupons" />
      </div>
      <div className="d-flex flex-wrap gap-3 mb-3 align-items-start">
        {printers.data && printers.data.length > 0 && (
          <Choice
            label="For the printer"
            value={printer?.id ?? ""}
            onChange={setPrinterId}
            options={printers.data.map((one) => [one.id, `${one.name}, ${one.pixel_um} µm`])}
          />
        )}
        <NumberField
          label="Layer height"
          unit="µm"
          value={layer}
          onChange={setLayer}
          error={problem.layer_height_um ?? problem.layer_um}
        />
      </div>
      <Loaded query={library}>
        {({ items }) => (
          <ul className="library" aria-label="Coupons and specimens">
            {items.map((entry) => (
              <li key={entry.kind} className="panel">
                <Card
                  entry={entry}
                  pixel={pixel}
                  layer={layer ?? 50}
                  here={new URLSearchParams({
                    ...(printer ? { printer: printer.id } : {}),
                    layer: String(layer ?? 50),
                  }).toString()}
                />
              </li>
            ))}
          </ul>
        )}
      </Loaded>
    </>
  );
}

function Card({ entry, pixel, layer, here }: { entry: Entry; pixel: number; layer: number; here: string }) {
  return (
    <article aria-label={entry.title}>
      <h2>
        <Link to={`/shelf/coupons/${entry.kind}?${here}`}>{entry.title}</Link>
      </h2>
      <div className="drawing">
        <CouponDrawing
          plan={entry.plan}
          states={allFormed(entry.plan)}
          label={`Drawing of the ${entry.title.toLowerCase()}`}
        />
      </div>
      <p className="mb-1">{entry.tells}</p>
      <p className="text-secondary mb-2">
        <b>Does not tell:</b> {entry.does_not_tell}
      </p>
      <p className="num small text-secondary mb-2">
        {entry.width_mm.toFixed(0)} × {entry.height_mm.toFixed(0)} × {entry.thickness_mm.toFixed(2)}
        {THIN}mm · {millilitres(entry.volume_ml)}
      </p>
      <div className="d-flex flex-wrap gap-2 mt-auto">
        <FileLinks
          name={entry.title}
          href={(format) => `/api/coupon-file?kind=${entry.kind}&format=${format}&pixel_um=${pixel}&layer_um=${layer}`}
        />
        <Link
          className="btn btn-primary btn-sm ms-auto d-inline-flex align-items-center"
          to={`/shelf/coupons/${entry.kind}?${here}`}
          aria-label={`What the ${entry.title.toLowerCase()} tells, sizes, plates`}
        >
          Open
        </Link>
      </div>
    </article>
  );
}
