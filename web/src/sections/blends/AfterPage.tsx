import { useQuery } from "@tanstack/react-query";
import { ApiError, body, POST, type Schemas } from "../../shared/api/client";
import { PageHead } from "../../app/PageHead";
import { Choice, type Option } from "../../shared/fields/Choice";
import { NumberField } from "../../shared/fields/NumberField";
import { DraftNote } from "../../shared/fields/DraftNote";
import { useEntry } from "../../shared/fields/useEntry";
import { decimal } from "../../shared/format";
import { Trouble } from "../../shared/Trouble";
import { setsOf, useStanding } from "../../shared/useStanding";
import { BlendTabs } from "./BlendTabs";
import "./blend.scss";

type Draft = {
  poured_ml: number | null;
  poured_doubt_ml: number | null;
  into_ml: number | null;
  into_doubt_ml: number | null;
  already: number | null;
  base_set: string;
  additive_set: string;
  times_exposure: number | null;
};

/** So much was added to so much, both unmeasured: the fraction with its uncertainty, and whether that uncertainty matters. */
export default function AfterPage() {
  const entry = useEntry<Draft>(
    {
      poured_ml: null,
      poured_doubt_ml: null,
      into_ml: null,
      into_doubt_ml: null,
      already: 0,
      base_set: "",
      additive_set: "",
      times_exposure: null,
    },
    "poured",
  );
  const { values: draft } = entry;
  const sets: Option[] = setsOf(useStanding().data ?? []).map((one) => [
    one.code,
    `${one.code} ${one.material}, ${one.printer}`,
  ]);
  // One that was chosen and superseded since is chosen no longer.
  const standing = (code: string) => (sets.some(([id]) => id === code) ? code : "");
  const [base, additive] = [standing(draft.base_set), standing(draft.additive_set)];
  const { poured_ml, poured_doubt_ml, into_ml, into_doubt_ml } = draft;
  const ready = poured_ml !== null && into_ml !== null && poured_doubt_ml !== null && into_doubt_ml !== null;
  const request = {
    poured_ml: poured_ml ?? 0,
    poured_doubt_ml: poured_doubt_ml ?? 0,
    into_ml: into_ml ?? 0,
    into_doubt_ml: into_doubt_ml ?? 0,
    already: (draft.already ?? 0) / 100,
    base_set: base || null,
    additive_set: additive || null,
    times_exposure: draft.times_exposure,
    latitude_pct: null,
  };
  const asked = useQuery<Schemas["PouredView"], ApiError>({
    queryKey: ["poured", request],
    queryFn: () => body(POST("/api/poured-about", { body: request })),
    enabled: ready,
    retry: false,
  });
  const { field, elsewhere } = entry.checked(asked.error);
  const view = asked.error ? undefined : asked.data;
  const held = view?.result;
  return (
    <>
      <PageHead title="Estimate an unmeasured mix" />
      <BlendTabs />
      <div className="two-columns">
        <section className="panel" aria-label="What was poured">
          <DraftNote entry={entry} />
          <div className="three">
            <NumberField label="Added" unit="ml" {...field("poured_ml")} />
            <NumberField label="±" unit="ml" {...field("poured_doubt_ml")} />
            <span />
            <NumberField label="to" unit="ml" {...field("into_ml")} />
            <NumberField label="±" unit="ml" {...field("into_doubt_ml")} />
            <NumberField label="already containing" unit="%" {...field("already")} />
            <Choice label="Set in the vat" {...field("base_set")} value={base} options={sets} none="none" />
            <Choice
              label="Set of the added resin"
              {...field("additive_set")}
              value={additive}
              options={sets}
              none="none"
            />
            <NumberField label="or exposure ratio" {...field("times_exposure")} />
          </div>
          <Trouble error={elsewhere} className="mt-2" />
        </section>
        <aside className="panel" aria-label="What it is" aria-live="polite">
          {held ? (
            <>
              <p className="key-number num mb-1">{decimal(100 * held.fraction, 1)} %</p>
              <p>
                between {decimal(100 * held.fraction_ci[0], 1)} and {decimal(100 * held.fraction_ci[1], 1)} %
              </p>
              {held.exposure_doubt_pct !== null && (
                <p>
                  That uncertainty moves the exposure by up to{" "}
                  <b className="num">{decimal(held.exposure_doubt_pct, 1)} %</b>
                  {held.matters === null
                    ? "."
                    : held.matters
                      ? ": more than a fifth of the window. Calibrate it before parts that matter."
                      : ": little against the window."}
                </p>
              )}
              {view.basis && <p className="text-secondary small">{view.basis}</p>}
              {held.warnings.map((one) => (
                <p key={one.code} className="caution mb-0">
                  {one.message}
                </p>
              ))}
            </>
          ) : (
            <p className="text-secondary mb-0">
              Say how much went into how much, and how sure you are: the fraction follows with its uncertainty.
            </p>
          )}
        </aside>
      </div>
    </>
  );
}
