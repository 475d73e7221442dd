import { body, GET, POST, PUT, type Schemas } from "../../shared/api/client";
import type { FieldSpec } from "../../shared/fields/EntryForm";
import { day, plural, screenHours, THIN } from "../../shared/format";
import type { Column } from "../../shared/table/DataTable";
import { Link } from "react-router";
import { BottleLevel } from "./BottleLevel";
import { BathLoads } from "./BathLoads";
import { Shaken } from "./Shaken";

type Headers = Record<string, string>;
type Entry = { id: string; retired_at: string | null; code: string };

/** Everything the shelf page needs to know about one kind of thing. A new kind is one entry here. */
export type ShelfKind<Row extends Entry> = {
  path: string;
  name: string;
  one: string;
  purpose: string;
  caution?: string;
  title: (row: Row) => string;
  /** Address of the page of one, where it has a page; else its name opens its form. */
  page?: (row: Row) => string;
  list: (retired: boolean) => Promise<Row[]>;
  fields: (materials: Schemas["Resin"][]) => FieldSpec[];
  fresh: Record<string, unknown>;
  columns: Column<Row>[];
  add: (values: Record<string, unknown>, headers: Headers) => Promise<Row>;
  change: (id: string, values: Record<string, unknown>) => Promise<Row>;
};

const query = (retired: boolean) => ({ params: { query: { retired, limit: 200, after: "" } } });
const options = (...values: string[]) => values.map((value) => ({ value, name: value }));
const range = (low: number | null, high: number | null, unit: string) =>
  low === null || high === null ? "" : `${low}–${high}${THIN}${unit}`;

export const RESINS: ShelfKind<Schemas["Resin"]> = {
  path: "resins",
  name: "Resins",
  one: "resin",
  purpose: "Resins are what gets calibrated: each colour of a line is a resin of its own.",
  caution:
    "Uncured resin sensitises skin: nitrile gloves, eye protection, ventilation; respirator as the safety sheet says.",
  title: (row) => row.name,
  page: (row) => `/materials/${row.id}`,
  list: async (retired) => (await body(GET("/api/resins", query(retired)))).items,
  fields: () => [
    { type: "text", name: "name", label: "Name", required: true, hint: "As people call it here" },
    { type: "text", name: "maker", label: "Maker", required: true, half: true },
    { type: "text", name: "line", label: "Line", half: true, hint: "Colours of one line are relatives" },
    { type: "text", name: "colour", label: "Colour", required: true, half: true },
    {
      type: "choice",
      name: "opacity",
      label: "Opacity",
      required: true,
      half: true,
      options: options("opaque", "tinted", "clear"),
    },
    {
      type: "choice",
      name: "family",
      label: "Family",
      required: true,
      half: true,
      options: options("basic", "ABS-like", "tough", "flexible", "rigid", "detail", "fast", "clear", "castable"),
    },
    {
      type: "choice",
      name: "wash_class",
      label: "Washes in",
      required: true,
      half: true,
      options: options("solvent", "water"),
    },
    {
      type: "choice",
      name: "chemistry",
      label: "Chemistry",
      required: true,
      half: true,
      options: options("acrylate", "epoxy-hybrid", "unknown"),
    },
    { type: "heading", name: "h-range", label: "What the maker says" },
    {
      type: "number",
      name: "maker_low_s",
      label: "Exposure from",
      unit: "s",
      half: true,
      hint: "As the maker gives it, for layers of 50 µm",
    },
    {
      type: "number",
      name: "maker_high_s",
      label: "Exposure to",
      unit: "s",
      half: true,
      hint: "Where the first ladder starts",
    },
    { type: "number", name: "maker_temp_low_c", label: "Temperature from", unit: "°C", half: true },
    { type: "number", name: "maker_temp_high_c", label: "Temperature to", unit: "°C", half: true },
    {
      type: "text",
      name: "safety_sheet_url",
      label: "Safety sheet",
      hint: "A link that starts with https://, http:// or file:",
    },
    { type: "heading", name: "h-phys", label: "For arithmetic" },
    { type: "number", name: "density_g_ml", label: "Density", unit: "g/ml", half: true },
    { type: "number", name: "price_per_l", label: "Price", unit: "/l", half: true },
    { type: "number", name: "heat_capacity_j_g_k", label: "Heat capacity", unit: "J/(g·K)", half: true },
    { type: "number", name: "viscosity_mpa_s", label: "Viscosity at 25 °C", unit: "mPa·s", half: true },
    {
      type: "number",
      name: "vat_hours",
      label: "May stand in a vat",
      unit: "h",
      half: true,
      hint: "When the maker limits it",
    },
    { type: "check", name: "may_be_mixed", label: "Its maker approves of mixing" },
  ],
  fresh: {
    name: "",
    maker: "",
    line: "",
    colour: "",
    opacity: "opaque",
    family: "basic",
    wash_class: "solvent",
    chemistry: "unknown",
    maker_low_s: null,
    maker_high_s: null,
    maker_temp_low_c: null,
    maker_temp_high_c: null,
    safety_sheet_url: "",
    density_g_ml: null,
    price_per_l: null,
    heat_capacity_j_g_k: null,
  },
  columns: [
    { name: "Maker", value: (row) => row.maker },
    { name: "Family", value: (row) => row.family },
    { name: "Colour", value: (row) => row.colour },
    { name: "Opacity", value: (row) => row.opacity },
    { name: "Washes in", value: (row) => row.wash_class },
    { name: "Maker’s exposure", value: (row) => range(row.maker_low_s, row.maker_high_s, "s"), number: true },
    {
      name: "On the shelf",
      value: (row) => (row.bottles ? Math.round(row.left_ml) : null),
      cell: (row) => (row.bottles ? `${Math.round(row.left_ml)}${THIN}ml in ${row.bottles}` : "none"),
      number: true,
    },
  ],
  add: (values, headers) => body(POST("/api/resins", { body: values as Schemas["ResinInput"], headers })),
  change: (id, values) =>
    body(PUT("/api/resins/{row_id}", { params: { path: { row_id: id } }, body: values as Schemas["ResinInput"] })),
};

export const BOTTLES: ShelfKind<Schemas["Bottle"]> = {
  path: "bottles",
  page: (row) => `/bottles/${row.code}`,
  name: "Bottles",
  one: "bottle",
  purpose: "A bottle is one container of a resin with its lot: a calibration is valid for the lot it was made with.",
  caution: "Nitrile gloves and eye protection when you handle an open bottle.",
  title: (row) => row.code,
  list: async (retired) => (await body(GET("/api/bottles", query(retired)))).items,
  fields: (materials) => [
    {
      type: "choice",
      name: "material_id",
      label: "Resin",
      required: true,
      options: materials.map((m) => ({ value: m.id, name: m.name })),
    },
    { type: "text", name: "lot", label: "Lot", required: true },
    { type: "number", name: "volume_ml", label: "Holds", unit: "ml", required: true, half: true },
    { type: "number", name: "left_ml", label: "Left in it", unit: "ml", half: true, hint: "Full when left empty" },
    { type: "date", name: "received_on", label: "Received", half: true },
    { type: "date", name: "opened_on", label: "Opened", half: true },
    { type: "date", name: "best_before", label: "Best before", half: true },
  ],
  fresh: { material_id: "", lot: "", volume_ml: 1000, left_ml: null, received_on: "", opened_on: "", best_before: "" },
  columns: [
    { name: "Resin", value: (row) => row.material },
    { name: "Lot", value: (row) => row.lot },
    {
      name: "Left",
      value: (row) => row.left_ml,
      cell: (row) => <BottleLevel left={row.left_ml} of={row.volume_ml} />,
      number: true,
    },
    { name: "Opened", value: (row) => row.opened_on, cell: (row) => (row.opened_on ? day(row.opened_on) : "not yet") },
    {
      name: "Best before",
      value: (row) => row.best_before,
      cell: (row) => (row.best_before ? day(row.best_before) : ""),
    },
    { name: "Shaken", value: (row) => row.last_shaken_at, cell: (row) => <Shaken bottle={row} />, wide: true },
  ],
  add: (values, headers) => body(POST("/api/bottles", { body: values as Schemas["BottleInput"], headers })),
  change: (id, values) =>
    body(PUT("/api/bottles/{row_id}", { params: { path: { row_id: id } }, body: values as Schemas["BottleInput"] })),
};

export const PRINTERS: ShelfKind<Schemas["Printer"]> = {
  path: "printers",
  name: "Printers",
  one: "printer",
  purpose: "A printer sets the exposure step, the pixel and the light: every parameter set belongs to one.",
  title: (row) => row.name,
  page: (row) => `/printers/${row.id}`,
  list: async (retired) => (await body(GET("/api/printers", query(retired)))).items,
  fields: () => [
    { type: "text", name: "name", label: "Name", required: true },
    {
      type: "choice",
      name: "light_engine",
      label: "Light engine",
      required: true,
      half: true,
      options: options("mono screen", "colour screen", "projector", "laser"),
    },
    { type: "number", name: "screen_hours", label: "Screen hours", unit: "h", required: true, half: true },
    { type: "number", name: "pixel_um", label: "Pixel", unit: "µm", required: true, half: true },
    {
      type: "number",
      name: "exposure_step_s",
      label: "Exposure step",
      unit: "s",
      required: true,
      half: true,
      hint: "Smallest change the printer takes",
    },
    { type: "number", name: "plate_x_mm", label: "Plate along X", unit: "mm", required: true, half: true },
    { type: "number", name: "plate_y_mm", label: "Plate along Y", unit: "mm", required: true, half: true },
    { type: "number", name: "vat_capacity_ml", label: "Vat holds", unit: "ml", required: true, half: true },
    { type: "number", name: "fill_line_ml", label: "Fill line at", unit: "ml", half: true, hint: "Empty: most of it" },
    { type: "heading", name: "h-can", label: "What it can do" },
    { type: "check", name: "light_power_adjustable", label: "Light power can be set" },
    { type: "check", name: "several_exposures", label: "Takes several exposures on one plate" },
    { type: "check", name: "suppresses_lift", label: "Can print with the lift suppressed" },
    {
      type: "check",
      name: "delay_includes_motion",
      label: "Its delay counts from the start of motion (so a short delay leaves no rest)",
    },
    {
      type: "check",
      name: "simulated",
      label: "It is a simulated printer: the app prints, photographs and reads by itself",
      only: "new",
    },
    { type: "note", name: "note", label: "Note" },
  ],
  fresh: {
    name: "",
    light_engine: "mono screen",
    screen_hours: 0,
    pixel_um: null,
    exposure_step_s: 0.1,
    plate_x_mm: null,
    plate_y_mm: null,
    vat_capacity_ml: null,
    fill_line_ml: null,
    light_power_adjustable: false,
    several_exposures: false,
    suppresses_lift: false,
    delay_includes_motion: false,
    simulated: false,
    note: "",
  },
  columns: [
    {
      name: "Light engine",
      value: (row) => `${row.light_engine}${row.simulated ? ", simulated" : ""}`,
      cell: (row) => (
        <>
          {row.light_engine}
          {row.simulated && <span className="simulated">simulated</span>}
        </>
      ),
    },
    { name: "Pixel, µm", value: (row) => row.pixel_um, number: true },
    { name: "Step, s", value: (row) => row.exposure_step_s, number: true },
    { name: "Plate, mm", value: (row) => `${row.plate_x_mm} × ${row.plate_y_mm}`, number: true },
    {
      name: "Screen hours",
      value: (row) => row.screen_hours,
      cell: (row) => screenHours(row.screen_hours),
      number: true,
    },
    {
      name: "Plate map",
      value: () => "",
      cell: (row) => (
        <Link to={`/shelf/printers/${row.id}/plate`} aria-label={`Plate of ${row.name}`}>
          Light and marks
        </Link>
      ),
    },
    { name: "Delay", value: (row) => (row.delay_includes_motion ? "includes motion" : "after motion") },
  ],
  add: (values, headers) => body(POST("/api/printers", { body: values as Schemas["PrinterInput"], headers })),
  change: (id, values) =>
    body(PUT("/api/printers/{row_id}", { params: { path: { row_id: id } }, body: values as Schemas["PrinterInput"] })),
};

export const ROUTES: ShelfKind<Schemas["FinishRoute"]> = {
  path: "finish-routes",
  name: "Finish routes",
  one: "finish route",
  purpose:
    "A finish route is how parts are washed, dried and cured: coupons are read only after it, as parts will be used after it.",
  caution: "Solvent vapour burns: no heater, spark or hot bath near it. Never look into the curing lamp.",
  title: (row) => row.name,
  list: async (retired) => (await body(GET("/api/finish-routes", query(retired)))).items,
  fields: () => [
    { type: "text", name: "name", label: "Name", required: true },
    { type: "text", name: "wash_fluid", label: "Wash fluid", required: true, half: true },
    { type: "text", name: "wash_method", label: "Wash method", required: true, half: true },
    { type: "number", name: "dirty_bath_min", label: "Dirty bath", unit: "min", required: true, half: true },
    { type: "number", name: "clean_bath_min", label: "Clean bath", unit: "min", required: true, half: true },
    { type: "number", name: "dry_min", label: "Drying", unit: "min", required: true, half: true },
    { type: "number", name: "air_min", label: "Air time", unit: "min", required: true, half: true },
    { type: "text", name: "lamp", label: "Lamp", required: true },
    { type: "number", name: "cure_min", label: "Cure", unit: "min", required: true, half: true },
    { type: "number", name: "cure_temp_c", label: "Cure at", unit: "°C", half: true },
    {
      type: "choice",
      name: "supports_off",
      label: "Supports off",
      required: true,
      options: options("before cure", "after cure"),
    },
  ],
  fresh: {
    name: "",
    wash_fluid: "",
    wash_method: "",
    dirty_bath_min: 2,
    clean_bath_min: 2,
    dry_min: 20,
    air_min: 0,
    lamp: "",
    cure_min: 5,
    cure_temp_c: null,
    supports_off: "before cure",
  },
  columns: [
    {
      name: "Version",
      value: (row) => row.version,
      cell: (row) => `${row.version}, ${row.uses ? `used by ${plural(row.uses, "calibration")}` : "not used yet"}`,
    },
    { name: "Wash", value: (row) => `${row.wash_fluid}, ${row.dirty_bath_min} + ${row.clean_bath_min} min` },
    { name: "Dry and air, min", value: (row) => `${row.dry_min} + ${row.air_min}`, number: true },
    { name: "Cure, min", value: (row) => row.cure_min, number: true },
    { name: "Supports off", value: (row) => row.supports_off },
  ],
  add: (values, headers) => body(POST("/api/finish-routes", { body: values as Schemas["FinishRouteInput"], headers })),
  change: (id, values) =>
    body(
      PUT("/api/finish-routes/{row_id}", {
        params: { path: { row_id: id } },
        body: values as Schemas["FinishRouteInput"],
      }),
    ),
};

export const BATHS: ShelfKind<Schemas["BathRow"]> = {
  path: "wash-baths",
  name: "Wash baths",
  one: "wash bath",
  purpose:
    "A wash bath wears with every print that goes through it, and a spent one leaves parts tacky and white: its loads are counted from the log.",
  caution:
    "Solvent vapour burns, and spent fluid holds uncured resin: gloves, eye protection, ventilation; never down a drain. Local rules say where it goes.",
  title: (row) => row.name,
  list: async (retired) => (await body(GET("/api/wash-baths", query(retired)))).items,
  fields: () => [
    { type: "text", name: "name", label: "Name", required: true },
    {
      type: "text",
      name: "wash_fluid",
      label: "Wash fluid",
      required: true,
      half: true,
      hint: "As the finish routes that use it call it",
    },
    { type: "choice", name: "stage", label: "Bath", required: true, half: true, options: options("dirty", "clean") },
    { type: "number", name: "volume_l", label: "Holds", unit: "l", required: true, half: true },
    {
      type: "number",
      name: "most_loads",
      label: "Takes",
      unit: "loads",
      required: true,
      half: true,
      hint: "Then it is filled anew",
    },
  ],
  fresh: { name: "", wash_fluid: "", stage: "dirty", volume_l: null, most_loads: null },
  columns: [
    { name: "Wash fluid", value: (row) => row.wash_fluid },
    { name: "Bath", value: (row) => row.stage },
    { name: "Holds, l", value: (row) => row.volume_l, number: true },
    {
      name: "Filled",
      value: (row) => row.filled_at,
      cell: (row) => (row.filled_at ? day(row.filled_at) : "not noted"),
    },
    { name: "Loads", value: (row) => row.loads / row.most_loads, cell: (row) => <BathLoads bath={row} />, wide: true },
  ],
  add: (values, headers) => body(POST("/api/wash-baths", { body: values as Schemas["WashBathInput"], headers })),
  change: (id, values) =>
    body(
      PUT("/api/wash-baths/{row_id}", { params: { path: { row_id: id } }, body: values as Schemas["WashBathInput"] }),
    ),
};
