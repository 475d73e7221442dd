import { useQuery } from "@tanstack/react-query";
import { useEffect, useState, type FormEvent } from "react";
import Button from "react-bootstrap/Button";
import Form from "react-bootstrap/Form";
import { Link, useNavigate, useSearchParams } from "react-router";
import { PageHead } from "../../app/PageHead";
import { body, GET, POST, type Schemas } from "../../shared/api/client";
import { useSend } from "../../shared/api/useSend";
import { EmptyState } from "../../shared/EmptyState";
import { Choice } from "../../shared/fields/Choice";
import { NumberField } from "../../shared/fields/NumberField";
import { Loaded } from "../../shared/Loading";
import { Trouble } from "../../shared/Trouble";
import { LimitsFields, type Limits } from "./LimitsFields";
import { SettingsFields, USUAL, type PartSettings } from "./settings";
import "./calibrate.scss";

type Draft = {
  material_id: string;
  printer_id: string;
  bottle_id: string;
  finish_route_id: string;
  layer_height_um: number | null;
  source: "maker" | "borrowed" | "own guess";
  low_s: number | null;
  high_s: number | null;
  limits: Limits;
  settings: PartSettings;
};

const everything = { params: { query: { limit: 200, retired: false, after: "" } } };
const LIMITS: Limits = {
  growth_target_um: 0, growth_tol_um: 45, walls_size_mm: null, walls_probability: 0.9, slots_size_mm: null, slots_probability: 0.9,
  tips_size_mm: null, tips_probability: 0.95, tips_per_part: null, z_bloom_max_um: null, fail_tip_size_mm: null, fail_tip_probability: 0.1,
};
// The finest sizes most parts here need; moved to the nearest the printer's pixels draw.
const WANTED = { walls_size_mm: 0.2, slots_size_mm: 0.34, tips_size_mm: 0.43 };

export default function NewCalibrationPage() {
  const shelf = useQuery({
    queryKey: ["shelf", "all"],
    queryFn: async () => {
      const [resins, printers, routes, bottles] = await Promise.all([
        body(GET("/api/resins", everything)),
        body(GET("/api/printers", everything)),
        body(GET("/api/finish-routes", everything)),
        body(GET("/api/bottles", everything)),
      ]);
      return { resins: resins.items, printers: printers.items, routes: routes.items, bottles: bottles.items };
    },
  });
  return (
    <>
      <PageHead title="Start a calibration" sub="What is calibrated, where, and what the parts need" />
      <Loaded query={shelf}>
        {(held) =>
          held.resins.length && held.printers.length ? (
            <NewForm {...held} />
          ) : (
            <EmptyState purpose={`A calibration needs a resin and a printer. ${held.resins.length ? "A printer" : "A resin"} is missing on the shelf.`}>
              <Link className="btn btn-primary" to={held.resins.length ? "/shelf/printers?new=1" : "/shelf/resins?new=1"}>
                Add a {held.resins.length ? "printer" : "resin"}
              </Link>
            </EmptyState>
          )
        }
      </Loaded>
    </>
  );
}

type Shelf = { resins: Schemas["ResinView"][]; printers: Schemas["PrinterView"][]; routes: Schemas["FinishRouteView"][]; bottles: Schemas["BottleView"][] };

function NewForm({ resins, printers, routes, bottles }: Shelf) {
  const [search] = useSearchParams();
  const navigate = useNavigate();
  const [bad, setBad] = useState<Record<string, boolean>>({});
  const [draft, setDraft] = useState<Draft>(() => {
    const material = resins.find((r) => r.id === search.get("material")) ?? (resins.length === 1 ? resins[0] : undefined);
    const printer = printers.find((p) => p.id === search.get("printer")) ?? (printers.length === 1 ? printers[0] : undefined);
    return withMaterial(
      {
        material_id: "", printer_id: printer?.id ?? "", bottle_id: "", finish_route_id: "",
        layer_height_um: Number(search.get("height") ?? 50), source: "maker", low_s: null, high_s: null, limits: LIMITS, settings: USUAL,
      },
      material, bottles, routes,
    );
  });
  const printer = printers.find((p) => p.id === draft.printer_id);
  const series = useQuery({
    queryKey: ["series", draft.printer_id],
    queryFn: () => body(GET("/api/printers/{row_id}/series", { params: { path: { row_id: draft.printer_id } } })),
    enabled: Boolean(draft.printer_id),
  });
  useEffect(() => {
    if (series.data) setDraft((held) => ({ ...held, limits: fitted(held.limits, series.data) }));
  }, [series.data]);
  const start = useSend(
    (given: Schemas["CalibrationInput"], headers) => body(POST("/api/calibrations", { body: given, headers })),
    (made) => void navigate(`/calibrate/${made.id}`),
  );
  const errors = start.error?.fields ?? {};
  const set = (changes: Partial<Draft>) => setDraft((held) => ({ ...held, ...changes }));
  const isBad = (name: string, value: boolean) => setBad((all) => ({ ...all, [name]: value }));

  function submit(event: FormEvent) {
    event.preventDefault();
    if (Object.values(bad).some(Boolean)) return;
    start.mutate({
      ...draft,
      bottle_id: draft.bottle_id || null,
      finish_route_id: draft.finish_route_id || null,
      guard_band_pct: 5,
      note: "",
    } as Schemas["CalibrationInput"]);
  }
  const own = bottles.filter((b) => b.material_id === draft.material_id);
  return (
    <Form noValidate onSubmit={submit} className="d-grid gap-3" style={{ maxWidth: "64rem" }}>
      <section className="panel">
        <h2>What and where</h2>
        <div className="settings-grid">
          <Choice label="Material" value={draft.material_id} error={errors.material_id} onChange={(id) => setDraft((held) => withMaterial(held, resins.find((r) => r.id === id), bottles, routes))} options={resins.map((r) => [r.id, r.name])} />
          <Choice label="Printer" value={draft.printer_id} error={errors.printer_id} onChange={(id) => set({ printer_id: id })} options={printers.map((p) => [p.id, p.name])} />
          <NumberField label="Layer height" unit="µm" value={draft.layer_height_um} onChange={(v) => set({ layer_height_um: v })} onBad={(b) => isBad("layer", b)} error={errors.layer_height_um} suggest={start.error?.suggest.layer_height_um} />
          <Choice label="Bottle" value={draft.bottle_id} error={errors.bottle_id} onChange={(id) => set({ bottle_id: id })} options={own.map((b) => [b.id, `${b.code}, lot ${b.lot}`])} none="not noted" />
          <Choice label="Finish route" value={draft.finish_route_id} error={errors.finish_route_id} onChange={(id) => set({ finish_route_id: id })} options={routes.map((r) => [r.id, r.name])} none="not noted" />
        </div>
      </section>
      <section className="panel">
        <h2>Range to start from</h2>
        <div className="settings-grid">
          <Choice
            label="Where it comes from"
            value={draft.source}
            onChange={(source) => set({ source: source as Draft["source"] })}
            options={[["maker", "Maker’s range"], ["borrowed", "Another workshop’s number"], ["own guess", "My own guess"]]}
          />
          <NumberField label="From" unit="s" value={draft.low_s} onChange={(v) => set({ low_s: v })} onBad={(b) => isBad("low", b)} error={errors.low_s && plain(errors.low_s)} />
          <NumberField label="To" unit="s" value={draft.high_s} onChange={(v) => set({ high_s: v })} onBad={(b) => isBad("high", b)} error={errors.high_s && plain(errors.high_s)} />
        </div>
        <p className="text-secondary mt-2 mb-0">{TRUST[draft.source]}</p>
      </section>
      <section className="panel">
        <h2>What the parts need</h2>
        <LimitsFields limits={draft.limits} series={series.data} onChange={(limits) => set({ limits })} onBad={isBad} errors={errors} />
      </section>
      <section className="panel">
        <h2>Settings all coupons share</h2>
        <SettingsFields settings={draft.settings} onChange={(settings) => set({ settings })} onBad={isBad} errors={errors} power={printer?.light_power_adjustable ?? true} delay={printer?.delay_includes_motion ?? false} />
      </section>
      <p className="caution mb-0">Gloves, eye protection, ventilation. Shake the bottle and stir the vat first: settled pigment and cold resin look exactly like a wrong exposure.</p>
      <Trouble error={start.error} />
      <div className="d-flex gap-2">
        <Button type="submit" size="lg" disabled={start.isPending}>
          Start
        </Button>
        <Button variant="quiet" size="lg" onClick={() => void navigate(-1)}>
          Cancel
        </Button>
      </div>
    </Form>
  );
}

const TRUST: Record<Draft["source"], string> = {
  maker: "A maker’s range is often so wide that its middle is wrong. The first coupons find both failures, then close in.",
  borrowed: "A borrowed number assumes the other workshop’s room, printer age and bottle. Leave room on both sides.",
  "own guess": "Leave room on both sides: the first coupons should show both failures.",
};

function plain(message: string): string {
  return message === "Give a number." ? "This is needed." : message;
}

function withMaterial(draft: Draft, material: Schemas["ResinView"] | undefined, bottles: Shelf["bottles"], routes: Shelf["routes"]): Draft {
  if (!material) return { ...draft, material_id: "", bottle_id: "" };
  const water = material.wash_class === "water";
  const route = routes.find((r) => water === /water|rinse/i.test(`${r.wash_fluid} ${r.name}`)) ?? (routes.length === 1 ? routes[0] : undefined);
  return {
    ...draft,
    material_id: material.id,
    bottle_id: bottles.find((b) => b.material_id === material.id)?.id ?? "",
    finish_route_id: draft.finish_route_id || (route?.id ?? ""),
    low_s: material.maker_low_s ?? draft.low_s,
    high_s: material.maker_high_s ?? draft.high_s,
    source: material.maker_low_s === null ? "own guess" : "maker",
  };
}

/** Limits moved to sizes this printer's coupons carry. */
function fitted(limits: Limits, series: Schemas["Series"]): Limits {
  const near = (sizes: number[], wanted: number) =>
    sizes.reduce<number | null>((best, one) => (best === null || Math.abs(one - wanted) < Math.abs(best - wanted) ? one : best), null);
  return {
    ...limits,
    walls_size_mm: near(series.walls_mm, limits.walls_size_mm ?? WANTED.walls_size_mm),
    slots_size_mm: near(series.slots_mm, limits.slots_size_mm ?? WANTED.slots_size_mm),
    tips_size_mm: near(series.tips_mm, limits.tips_size_mm ?? WANTED.tips_size_mm),
  };
}
