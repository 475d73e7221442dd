import { useQuery } from "@tanstack/react-query";
import { ApiError, body, POST, type Schemas } from "../../shared/api/client";
import { PageHead } from "../../app/PageHead";
import { Choice, type Option } from "../../shared/fields/Choice";
import { NumberField } from "../../shared/fields/NumberField";
import { decimal } from "../../shared/format";
import { Trouble } from "../../shared/Trouble";
import { setsOf, useStanding } from "../../shared/useStanding";
import { useKept } from "../../shared/useKept";
import { BlendTabs } from "./BlendTabs";
import "./blend.scss";

type Draft = {
  poured: number | null;
  pouredDoubt: number | null;
  into: number | null;
  intoDoubt: number | null;
  already: number | null;
  base: string;
  additive: string;
  times: number | null;
};

/** I poured about so much into about so much: the fraction with its uncertainty, and whether that uncertainty matters. */
export default function AfterPage() {
  const [draft, setDraft] = useKept<Draft>("poured", {
    poured: null,
    pouredDoubt: null,
    into: null,
    intoDoubt: null,
    already: 0,
    base: "",
    additive: "",
    times: null,
  });
  const sets: Option[] = setsOf(useStanding().data ?? []).map((one) => [
    one.code,
    `${one.code} ${one.material}, ${one.printer}`,
  ]);
  // One that was chosen and superseded since is chosen no longer.
  const standing = (code: string) => (sets.some(([id]) => id === code) ? code : "");
  const [base, additive] = [standing(draft.base), standing(draft.additive)];
  const set = (changes: Partial<Draft>) => setDraft((held) => ({ ...held, ...changes }));
  const ready = draft.poured !== null && draft.into !== null && draft.pouredDoubt !== null && draft.intoDoubt !== null;
  const given = {
    poured_ml: draft.poured ?? 0,
    poured_doubt_ml: draft.pouredDoubt ?? 0,
    into_ml: draft.into ?? 0,
    into_doubt_ml: draft.intoDoubt ?? 0,
    already: (draft.already ?? 0) / 100,
    base_set: base || null,
    additive_set: additive || null,
    times_exposure: draft.times,
    latitude_pct: null,
  };
  const asked = useQuery<Schemas["PouredView"], ApiError>({
    queryKey: ["poured", given],
    queryFn: () => body(POST("/api/poured-about", { body: given })),
    enabled: ready,
    retry: false,
  });
  const errors = asked.error?.fields ?? {};
  const view = asked.error ? undefined : asked.data;
  const held = view?.result;
  return (
    <>
      <PageHead title="Poured by eye" />
      <BlendTabs />
      <div className="two-columns">
        <section className="panel" aria-label="What was poured">
          <div className="three">
            <NumberField
              label="I poured about"
              unit="ml"
              value={draft.poured}
              onChange={(poured) => set({ poured })}
              error={errors.poured_ml}
            />
            <NumberField
              label="give or take"
              unit="ml"
              value={draft.pouredDoubt}
              onChange={(pouredDoubt) => set({ pouredDoubt })}
              error={errors.poured_doubt_ml}
            />
            <span />
            <NumberField
              label="into about"
              unit="ml"
              value={draft.into}
              onChange={(into) => set({ into })}
              error={errors.into_ml}
            />
            <NumberField
              label="give or take"
              unit="ml"
              value={draft.intoDoubt}
              onChange={(intoDoubt) => set({ intoDoubt })}
              error={errors.into_doubt_ml}
            />
            <NumberField
              label="which held of it already"
              unit="%"
              value={draft.already}
              onChange={(already) => set({ already })}
              error={errors.already}
            />
            <Choice
              label="Set in the vat"
              value={base}
              onChange={(base) => set({ base })}
              options={sets}
              error={errors.base_set}
              none="none"
            />
            <Choice
              label="Set poured in"
              value={additive}
              onChange={(additive) => set({ additive })}
              options={sets}
              error={errors.additive_set}
              none="none"
            />
            <NumberField
              label="Or times the exposure"
              value={draft.times}
              onChange={(times) => set({ times })}
              error={errors.times_exposure}
            />
          </div>
          <Trouble error={asked.error && !Object.keys(errors).length ? asked.error : null} className="mt-2" />
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
