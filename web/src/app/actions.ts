/** What can be begun, and the pages behind the sections: found by their words. */
import { SECTIONS } from "./sections";

export type Place = { title: string; path: string; also?: string };

export const PLACES: Place[] = [
  { title: "Start a print", path: "/log/new", also: "record new log" },
  { title: "Log a print that came out", path: "/log/new?done", also: "record finish night" },
  { title: "Start a calibration", path: "/calibrate/new", also: "new exposure" },
  { title: "Plan the day", path: "/plan", also: "schedule week tasks order" },
  { title: "Plan a test", path: "/test/new", also: "new specimens strength" },
  { title: "Write a recipe", path: "/blend/new", also: "new blend mix" },
  { title: "Estimate an unmeasured mix", path: "/blend/after", also: "poured blend" },
  { title: "Add a resin", path: "/shelf/resins?new=1", also: "new material" },
  { title: "Add a bottle", path: "/shelf/bottles?new=1", also: "new lot" },
  { title: "Add a printer", path: "/shelf/printers?new=1", also: "new machine" },
  { title: "Settings in use", path: "/shelf/in-use", also: "provisional old known maker habit" },
  { title: "Give a second opinion", path: "/calibrate/opinion", also: "question other workshop answer" },
  { title: "Borrow a set of another workshop", path: "/shelf/in-use/borrow", also: "foreign bundle import" },
  { title: "Bring a table along", path: "/shelf/in-use/table", also: "spreadsheet import paste csv xlsx history" },
  { title: "Practise reading", path: "/practice", also: "hidden coupons round bias learn" },
  { title: "Plan a gauge study", path: "/practice/studies/new", also: "repeatability readers compare calipers" },
  { title: "Gauge studies", path: "/practice/studies", also: "bias correction trust" },
  { title: "Coupon library", path: "/shelf/coupons", also: "files specimens stl" },
  { title: "Begin here", path: "/start", also: "set up bench demo bring records first" },
  { title: "Settings of this lab", path: "/lab", also: "name currency label backup address limits" },
  { title: "People", path: "/lab/people", also: "accounts sign in password pin devices roles users" },
  { title: "At the bench", path: "/at-hand", also: "phone hand codes cards read" },
  { title: "Waiting entries", path: "/waiting", also: "offline queue outbox connection" },
  { title: "Instruments", path: "/lab/instruments", also: "caliper scale force gauge light meter probe serial device" },
  { title: "What changed", path: "/lab/activity", also: "activity history who" },
  { title: "Words", path: "/lab/glossary", also: "glossary help meaning" },
  { title: "Briefs", path: "/test/briefs", also: "requirements" },
  { title: "Compare properties", path: "/test/properties", also: "side by side materials" },
  { title: "Temperatures", path: "/climate", also: "trace probes log" },
  { title: "Import a temperature log", path: "/climate/import", also: "logger csv" },
  { title: "Plan a warm start", path: "/climate/warm-start", also: "heater cold" },
  { title: "Viscosity", path: "/climate/flow", also: "flow cup" },
  { title: "Exposure against temperature", path: "/climate/exposure" },
  { title: "Success against temperature", path: "/climate/success" },
  { title: "Signed qualifications", path: "/qualify/records", also: "certificates" },
  { title: "Export and import", path: "/qualify/open-formats", also: "bundle backup lab" },
  ...SECTIONS.map((one) => ({ title: one.name, path: one.path, also: one.asks })),
];

/** Places of which every word that is looked for begins a word. */
export function placesNamed(text: string, limit = 5): Place[] {
  const words = text.toLowerCase().split(/\s+/).filter(Boolean);
  if (!words.length) return [];
  return PLACES.filter(({ title, also = "" }) => {
    const own = `${title} ${also}`.toLowerCase().split(/[^a-z]+/);
    return words.every((word) => own.some((one) => one.startsWith(word)));
  }).slice(0, limit);
}
