import { useQuery } from "@tanstack/react-query";
import { useEffect, useRef, type FormEvent, useState } from "react";
import Button from "react-bootstrap/Button";
import Form from "react-bootstrap/Form";
import { Link, useNavigate, useSearchParams } from "react-router";
import { BaseRuleDialog } from "./BaseRuleDialog";
import { PageHead } from "../../app/PageHead";
import { body, GET, POST, type Schemas } from "../../shared/api/client";
import { useSend } from "../../shared/api/useSend";
import { EmptyState } from "../../shared/EmptyState";
import { Choice } from "../../shared/fields/Choice";
import { DraftNote } from "../../shared/fields/DraftNote";
import { NumberField } from "../../shared/fields/NumberField";
import { useEntry } from "../../shared/fields/useEntry";
import { Loaded } from "../../shared/Loading";
import { Trouble } from "../../shared/Trouble";
import { WholeShare } from "./from-prints/WholeShare";
import { LimitsFields, type Limits } from "./LimitsFields";
import { UseChoice, chosenUse } from "./UseChoice";
import { SettingsFields, type PartSettings } from "../../shared/fields/SettingsFields";
import "./calibrate.scss";
import { AddInPlace } from "./AddInPlace";
import { useGet } from "../../shared/api/useGet";
import { roughly } from "../../shared/format";

type Draft = {
  material_id: string;
  printer_id: string;
  bottle_id: string;
  finish_route_id: string;
  layer_height_um: number | null;
  source: Schemas["CalibrationInput"]["source"];
  low_s: number | null;
  high_s: number | null;
  /** These two are suggested once material and printer are chosen. */
  limits: Limits | null;
  settings: PartSettings | null;
  /** Share of parts that should come out whole, to rest on prints of parts alone. */
  whole_share: number | null;
};

/** Wanted where nobody says otherwise. */
const USUAL_SHARE = 0.9;

const everything = { params: { query: { limit: 200, retired: false, after: "" } } };
export default function NewCalibrationPage() {
  const shelf = useQuery({
    queryKey: ["shelf", "all"],
    queryFn: async () => {
      const [resins, blends, printers, routes, bottles] = await Promise.all([
        body(GET("/api/resins", everything)),
        body(GET("/api/blends", { params: { query: { after: "", limit: 200 } } })),
        body(GET("/api/printers", everything)),
        body(GET("/api/finish-routes", everything)),
        body(GET("/api/bottles", everything)),
      ]);
      return {
        materials: [...resins.items, ...blends.items],
        printers: printers.items,
        routes: routes.items,
        bottles: bottles.items,
      };
    },
  });
  return (
    <>
      <PageHead title="Start a calibration" sub="What is calibrated, where, and what the parts need" />
      <Loaded query={shelf}>
        {(held) =>
          held.materials.length && held.printers.length ? (
            <NewForm {...held} />
          ) : (
            <EmptyState
              purpose={`A calibration needs a resin and a printer. ${held.materials.length ? "A printer" : "A resin"} is missing on the shelf.`}
            >
              <Link
                className="btn btn-primary"
                to={held.materials.length ? "/shelf/printers?new=1" : "/shelf/resins?new=1"}
              >
                Add a {held.materials.length ? "printer" : "resin"}
              </Link>
            </EmptyState>
          )
        }
      </Loaded>
    </>
  );
}

type Shelf = {
  materials: { id: string; name: string }[];
  printers: Schemas["Printer"][];
  routes: Schemas["FinishRoute"][];
  bottles: Schemas["Bottle"][];
};

/** What a link hands over: it wins over an earlier draft. */
function linkedTo(search: URLSearchParams, materials: Shelf["materials"], printers: Shelf["printers"]): Partial<Draft> {
  const material = materials.find((one) => one.id === search.get("material"));
  const printer = printers.find((one) => one.id === search.get("printer"));
  return {
    ...(material && { material_id: material.id }),
    ...(printer && { printer_id: printer.id }),
    ...(search.has("height") && { layer_height_um: Number(search.get("height")) }),
    ...(search.get("by") === "prints" && { whole_share: USUAL_SHARE }),
  };
}

/** What is asked for, filled in by what the shop knows; what a person chose stays when suggestions come anew. */
function useStartDraft(materials: Shelf["materials"], printers: Shelf["printers"]) {
  const [search] = useSearchParams();
  const entry = useEntry<Draft>(
    () => {
      return {
        material_id: (materials.length === 1 && materials[0]?.id) || "",
        printer_id: (printers.length === 1 && printers[0]?.id) || "",
        bottle_id: "",
        finish_route_id: "",
        layer_height_um: Number(search.get("height") ?? 50),
        source: "maker",
        low_s: null,
        high_s: null,
        limits: null,
        settings: null,
        whole_share: null,
      };
    },
    "new-calibration",
    linkedTo(search, materials, printers),
  );
  const { values: draft, set, suggest, release } = entry;
  // One limit at a time is typed: the others still take what is suggested.
  const typed = useRef<Partial<Limits>>({});
  // A height that cannot be is for the server to say on Start; suggestions go on from a usual one.
  const height =
    draft.layer_height_um !== null && draft.layer_height_um >= 5 && draft.layer_height_um <= 200
      ? draft.layer_height_um
      : 50;
  const suggested = useGet(
    "/api/calibration-start",
    {
      params: { query: { material_id: draft.material_id, printer_id: draft.printer_id, layer_height_um: height } },
    },
    { enabled: Boolean(draft.material_id && draft.printer_id), placeholderData: (before) => before },
  );
  const first = suggested.data;
  const offered = first?.sources ?? [];
  // A re-range around a value that no longer holds brings its own range along.
  const again: [number, number] | null =
    search.has("low") && search.has("high") ? [Number(search.get("low")), Number(search.get("high"))] : null;
  useEffect(() => {
    if (!first) return;
    const source = entry.isTouched("source") ? draft.source : again ? "own guess" : first.source;
    suggest({
      bottle_id: first.bottle_id ?? "",
      finish_route_id: first.finish_route_id ?? draft.finish_route_id,
      limits: { ...first.limits, ...typed.current },
      settings: first.settings,
      source,
      ...(again && source === "own guess"
        ? { low_s: again[0], high_s: again[1] }
        : rangeOf(first.sources.find((one) => one.key === source))),
    });
    // eslint-disable-next-line react-hooks/exhaustive-deps -- the guess is new when its numbers are
  }, [first, again?.join()]);
  function changeLimits(limits: Limits) {
    const changed = Object.entries(limits).filter(([key, value]) => value !== draft.limits?.[key as keyof Limits]);
    typed.current = { ...typed.current, ...Object.fromEntries(changed) };
    suggest({ limits });
  }
  function chooseMaterial(material_id: string) {
    set({ material_id });
    release("bottle_id");
  }
  function chooseSource(source: Draft["source"]) {
    const { low_s, high_s } = draft;
    set({ source });
    release("low_s", "high_s");
    suggest({ low_s, high_s, ...rangeOf(offered.find((one) => one.key === source)) });
  }
  function chooseUse(limits: Limits) {
    typed.current = limits;
    set({ limits });
  }
  const choose = { use: chooseUse, material: chooseMaterial, source: chooseSource, limits: changeLimits };
  return { entry, choose, first, offered, again, waiting: suggested.isLoading, ask: () => void suggested.refetch() };
}

function NewForm({ materials, printers, routes, bottles }: Shelf) {
  const navigate = useNavigate();
  const { entry, choose, first, offered, again, waiting, ask } = useStartDraft(materials, printers);
  const [ruling, setRuling] = useState(false);
  const { values: draft, set } = entry;
  const record = useGet("/api/guesses");
  const start = useSend(
    (request: Schemas["CalibrationInput"], headers) => body(POST("/api/calibrations", { body: request, headers })),
    (started) => {
      entry.forget();
      void navigate(`/calibrate/${started.id}`);
    },
  );
  const { field, errors } = entry.checked(start.error);

  function submit(event: FormEvent) {
    event.preventDefault();
    start.mutate({
      ...draft,
      limits: draft.limits ?? {},
      settings: draft.settings ?? {},
      bottle_id: draft.bottle_id || null,
      finish_route_id: draft.finish_route_id || null,
      guard_band_pct: 5,
      note: "",
    } as Schemas["CalibrationInput"]);
  }
  const own = bottles.filter((b) => b.material_id === draft.material_id);
  return (
    <Form noValidate onSubmit={submit} className="d-grid gap-3" style={{ maxWidth: "64rem" }}>
      <DraftNote entry={entry} />
      <section className="panel">
        <h2>What and where</h2>
        <div className="settings-grid">
          <Choice
            label="Material"
            {...field("material_id")}
            onChange={choose.material}
            options={materials.map((r) => [r.id, r.name])}
          />
          <Choice label="Printer" {...field("printer_id")} options={printers.map((p) => [p.id, p.name])} />
          <NumberField label="Layer height" unit="µm" {...field("layer_height_um")} />
          <Choice
            label="Bottle"
            {...field("bottle_id")}
            options={own.map((b) => [b.id, `${b.code}, lot ${b.lot}`])}
            none="not noted"
          />
          <Choice
            label="Finish route"
            {...field("finish_route_id")}
            options={routes.map((r) => [r.id, r.name])}
            none="not noted"
          />
        </div>
        <AddInPlace
          materials={materials}
          material_id={draft.material_id}
          onBottle={(bottle_id) => set({ bottle_id })}
          onRoute={(finish_route_id) => set({ finish_route_id })}
        />
      </section>
      <section className="panel">
        <h2>Range to start from</h2>
        <div className="settings-grid">
          <Choice
            label="Where it comes from"
            value={draft.source}
            onChange={choose.source}
            options={offered.map((one) => [
              one.key,
              again && one.key === "own guess" ? "Around the value that held" : one.name,
            ])}
          />
          <NumberField label="From" unit="s" {...field("low_s")} error={errors.low_s && plain(errors.low_s)} />
          <NumberField label="To" unit="s" {...field("high_s")} error={errors.high_s && plain(errors.high_s)} />
        </div>
        <p className="text-secondary mt-2 mb-0">{offered.find((one) => one.key === draft.source)?.trust}</p>
        {first && (
          <p className="text-secondary mb-0">
            First estimate: <i className="num">~{roughly(first.guess.exposure_s)} s</i>, likely{" "}
            {roughly(first.guess.low_s)} to {roughly(first.guess.high_s)} s. {first.guess.basis} {record.data?.said}
          </p>
        )}
      </section>
      <section className="panel">
        <h2>What shows it</h2>
        <div className="btn-group mb-2" role="group" aria-label="What shows it">
          {[false, true].map((byPrints) => (
            <Button
              key={String(byPrints)}
              variant={(draft.whole_share !== null) === byPrints ? "primary" : "quiet"}
              aria-pressed={(draft.whole_share !== null) === byPrints}
              onClick={() => set({ whole_share: byPrints ? USUAL_SHARE : null })}
            >
              {byPrints ? "Prints of parts alone" : "Coupons"}
            </Button>
          ))}
        </div>
        <p className="text-secondary mb-0">
          {draft.whole_share === null
            ? "A few small coupons show sizes, walls, slots and support tips, and both ends of the window."
            : "The exposure is raised until parts succeed; what is logged already counts too. It takes more prints, and sizes are not measured."}
        </p>
      </section>
      <section className="panel">
        <h2>What the parts need</h2>
        {draft.whole_share !== null && (
          <div style={{ maxWidth: "24rem" }}>
            <WholeShare
              value={draft.whole_share}
              onChange={(whole_share) => set({ whole_share: whole_share ?? 0 })}
              error={errors.whole_share}
            />
          </div>
        )}
        {first && draft.whole_share === null && (
          <UseChoice
            uses={first.uses}
            chosen={chosenUse(first.uses, draft.limits)}
            onChoose={(use) => choose.use(use.limits)}
          />
        )}
        {draft.whole_share === null && (
          <LimitsFields limits={draft.limits} fields={first?.series.fields} onChange={choose.limits} errors={errors} />
        )}
      </section>
      <section className="panel">
        <h2>Settings all {draft.whole_share === null ? "coupons" : "prints"} share</h2>
        {first && (
          <p className="text-secondary">
            {first.settings_from && `${first.settings_from}. `}
            {first.base_from && `${first.base_from}. `}
            <Button variant="link" className="p-0 align-baseline" onClick={() => setRuling(true)}>
              Our rule for base exposures…
            </Button>
          </p>
        )}
        {draft.settings && first ? (
          <SettingsFields
            settings={draft.settings}
            fields={first.setting_fields}
            onChange={(settings) => set({ settings })}
            errors={errors}
          />
        ) : (
          <p className="text-secondary mb-0">Choose a material and a printer: settings are those it has.</p>
        )}
      </section>
      {ruling && (
        <BaseRuleDialog
          printer={printers.find((one) => one.id === draft.printer_id)}
          onClose={() => setRuling(false)}
          onChanged={ask}
        />
      )}
      <p className="caution mb-0">
        Gloves, eye protection, ventilation. Shake the bottle and stir the vat first: settled pigment and cold resin
        look exactly like a wrong exposure.
      </p>
      <Trouble error={start.error} />
      <div className="d-flex gap-2">
        <Button type="submit" size="lg" disabled={start.isPending || waiting}>
          Start
        </Button>
        <Button variant="quiet" size="lg" onClick={() => void navigate(-1)}>
          Cancel
        </Button>
      </div>
    </Form>
  );
}

/** The range a source brings along, where it has one. */
function rangeOf(source: Schemas["StartSource"] | undefined): { low_s?: number; high_s?: number } {
  return source?.low_s != null && source.high_s != null ? { low_s: source.low_s, high_s: source.high_s } : {};
}

function plain(message: string): string {
  return message === "Give a number." ? "This is needed." : message;
}
