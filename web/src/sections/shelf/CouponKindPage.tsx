import { keepPreviousData } from "@tanstack/react-query";
import { useRef, useState } from "react";
import Button from "react-bootstrap/Button";
import { useParams, useSearchParams } from "react-router";
import { PageHead } from "../../app/PageHead";
import { ApiError, type Schemas } from "../../shared/api/client";
import { allFormed, CouponDrawing, letterOf, type Plan } from "../../shared/coupon/CouponDrawing";
import { FileLinks } from "../../shared/coupon/FileLinks";
import { Choice } from "../../shared/fields/Choice";
import { NumberField } from "../../shared/fields/NumberField";
import { SizesField } from "../../shared/fields/SizesField";
import { millilitres, THIN } from "../../shared/format";
import { Loaded } from "../../shared/Loading";
import { ExamplePictures } from "./ExamplePictures";
import { LayerAreas } from "./LayerAreas";
import { PlatePanel } from "./PlatePanel";
import { ShelfTabs } from "./ShelfTabs";
import { SpecimenLabels } from "./SpecimenLabels";
import "./coupons.scss";
import { useGet } from "../../shared/api/useGet";

/** Sizes of one's own that an address may ask for; which of them a kind has, it says itself. */
const SIZES = ["walls_mm", "slots_mm", "tips_mm"];

/** One coupon or specimen: what each part tells, its own sizes, its files, and plates of several exposures. */
export default function CouponKindPage() {
  const { kind = "flat" } = useParams();
  const [labelling, setLabelling] = useState(false);
  const address = useSizesInAddress();
  const { number, sizes, set } = address;
  const printers = useGet(
    "/api/printers",
    { params: { query: { retired: false, limit: 200, after: "" } } },
    { select: (answer) => answer.items },
  );
  const printer = printers.data?.find((one) => one.id === address.text("printer")) ?? printers.data?.[0];
  const plate = kind === "grid" && printer ? { plate_x_mm: printer.plate_x_mm, plate_y_mm: printer.plate_y_mm } : {};
  const asked = {
    kind,
    pixel_um: printer?.pixel_um ?? 35,
    layer_um: number("layer") ?? 50,
    base_layers: number("base") ?? 4,
    transition_layers: number("transition") ?? 3,
    ...(number("thickness") !== null ? { thickness_mm: number("thickness") } : {}),
    ...Object.fromEntries(SIZES.flatMap((name) => (sizes(name) ? [[name, sizes(name)]] : []))),
    ...plate,
  };
  const drawing = useGet(
    "/api/coupon-drawing",
    { params: { query: asked } },
    { enabled: printers.data !== undefined, placeholderData: keepPreviousData, retry: false },
  );
  const problem = drawing.error instanceof ApiError ? drawing.error.fields : {};
  // While what is asked for cannot be drawn, the last drawing stays; the message stands at its field.
  const last = useRef(drawing.data);
  if (drawing.data) last.current = drawing.data;
  const held = drawing.data ?? last.current;
  const plan = held?.plan;
  return (
    <>
      <PageHead
        title={plan?.title ?? "Coupon"}
        sub={
          plan &&
          `${plan.width_mm.toFixed(0)} × ${plan.height_mm.toFixed(0)} × ${plan.thickness_mm.toFixed(2)}${THIN}mm, ${millilitres(plan.volume_ml)}, ${held.layers} layers`
        }
      >
        {held?.is_specimen && (
          <Button variant="quiet" onClick={() => setLabelling(true)}>
            Labels…
          </Button>
        )}
      </PageHead>
      <div className="mb-3">
        <ShelfTabs here="coupons" />
      </div>
      <div className="coupon-kind">
        <section className="panel" aria-label="Drawing">
          {held ? (
            <div className={drawing.error ? "stale" : ""}>
              <CouponDrawing
                plan={held.plan}
                states={allFormed(held.plan)}
                callouts
                label={`Drawing of the ${held.plan.title.toLowerCase()} with its parts`}
                code="104R"
                exposure="2.6s"
              />
              <Legend plan={held.plan} />
              <LayerAreas areas={held.layer_areas_mm2} layer={asked.layer_um} />
            </div>
          ) : (
            <Loaded query={drawing}>{() => null}</Loaded>
          )}
        </section>
        <SizesAndFiles
          kind={kind}
          asked={asked}
          printers={printers.data ?? []}
          printer={printer}
          drawn={held}
          problem={problem}
          address={address}
        />
        {held?.on_one_plate && printer && (
          <PlatePanel
            asked={asked}
            printer={printer}
            exposures={sizes("exposures")}
            onExposures={(values) => set("exposures", values?.join(",") ?? null)}
          />
        )}
        {held?.has_examples && <ExamplePictures kind={kind} />}
      </div>
      {labelling && <SpecimenLabels kind={kind} title={plan?.title ?? kind} onClose={() => setLabelling(false)} />}
    </>
  );
}

/** What is asked for, kept in the address so that a link shows the same coupon. */
function useSizesInAddress() {
  const [search, setSearch] = useSearchParams();
  return {
    text: (name: string) => search.get(name),
    number: (name: string) => (search.get(name) === null ? null : Number(search.get(name))),
    sizes: (name: string) => search.get(name)?.split(",").map(Number) ?? null,
    set: (name: string, value: string | null) =>
      setSearch(
        (held) => {
          const next = new URLSearchParams(held);
          if (value === null || value === "") next.delete(name);
          else next.set(name, value);
          return next;
        },
        { replace: true },
      ),
  };
}

type Asked = { kind: string; pixel_um: number; layer_um: number; base_layers: number; transition_layers: number };
type SizesProps = {
  kind: string;
  asked: Asked;
  printers: Schemas["Printer"][];
  printer: Schemas["Printer"] | undefined;
  drawn: Schemas["Drawn"] | undefined;
  problem: Record<string, string>;
  address: ReturnType<typeof useSizesInAddress>;
};

/** For which printer and layers it is drawn, sizes of one's own, and its files. */
function SizesAndFiles({
  kind,
  asked,
  printers,
  printer,
  drawn,
  problem,
  address: { number, sizes, set },
}: SizesProps) {
  const query = new URLSearchParams(Object.entries(asked).map(([name, value]) => [name, String(value)])).toString();
  return (
    <aside className="panel" aria-label="Sizes and files">
      <h2>Drawn for</h2>
      <div className="fields">
        {printers.length > 0 && (
          <div className="wide">
            <Choice
              label="Printer"
              value={printer?.id ?? ""}
              onChange={(value) => set("printer", value)}
              options={printers.map((one) => [one.id, `${one.name}, ${one.pixel_um} µm`])}
            />
          </div>
        )}
        <NumberField
          label="Layer height"
          unit="µm"
          value={asked.layer_um}
          onChange={(value) => value && set("layer", String(value))}
          error={problem.layer_height_um ?? problem.layer_um}
        />
        {drawn?.has_floor && (
          <>
            <NumberField
              label="Base layers"
              value={asked.base_layers}
              onChange={(value) => value !== null && set("base", String(value))}
              error={problem.base_layers}
              hint="Features start above them"
            />
            <NumberField
              label="Transition layers"
              value={asked.transition_layers}
              onChange={(value) => value !== null && set("transition", String(value))}
              error={problem.transition_layers}
            />
          </>
        )}
        <NumberField
          label="Whole thickness"
          unit="mm"
          value={number("thickness")}
          onChange={(value) => set("thickness", value === null ? null : String(value))}
          error={problem.thickness_mm}
          hint="default when left empty"
        />
        {drawn?.series.map(({ key: name, label, usual_mm }) => (
          <div key={name} className="wide">
            <SizesField
              label={label}
              unit="mm"
              values={sizes(name)}
              usual={usual_mm.map((size) => size.toFixed(2)).join("  ")}
              onChange={(values) => set(name, values?.join(",") ?? null)}
              error={problem[name]}
              hint="Small to large, spaces between"
            />
          </div>
        ))}
      </div>
      {problem.plate_x_mm && <p className="trouble">{problem.plate_x_mm}</p>}
      <h2 className="mt-3">Files</h2>
      <FileLinks
        name={drawn?.plan.title ?? kind}
        href={(format) => `/api/coupon-file?${query}&format=${format}`}
        layers
      />
    </aside>
  );
}

function Legend({ plan }: { plan: Plan }) {
  return (
    <ol className="legend" aria-label="What each part tells">
      {plan.parts?.map((part, index) => (
        <li key={part.name}>
          <b className="letter">{letterOf(index)}</b>
          <span>
            <b>{part.name}.</b> {part.tells}
          </span>
        </li>
      ))}
      <li>
        <b className="letter quiet">–</b>
        <span>
          <b>Does not tell:</b> {plan.does_not_tell}
        </span>
      </li>
    </ol>
  );
}
