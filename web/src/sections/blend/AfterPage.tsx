import { useQuery } from "@tanstack/react-query";
import { useId } from "react";
import Form from "react-bootstrap/Form";
import { ApiError, body, POST, type Schemas } from "../../shared/api/client";
import { PageHead } from "../../app/PageHead";
import { NumberField } from "../../shared/fields/NumberField";
import { decimal } from "../../shared/format";
import { Trouble } from "../../shared/Trouble";
import { useKept } from "../../shared/useKept";
import { BlendTabs } from "./BlendTabs";
import "./blend.scss";

type Draft = { poured: number | null; pouredDoubt: number | null; into: number | null; intoDoubt: number | null; already: number | null; base: string; additive: string; times: number | null };

/** A code is sent once it is whole, so that typing it brings no complaint. */
const whole = (code: string) => (/^S-\d{3,}$/i.test(code.trim()) ? code.trim() : null);

function SetField({ label, value, onChange, error }: { label: string; value: string; onChange: (value: string) => void; error?: string }) {
  const id = useId();
  return (
    <Form.Group controlId={id}>
      <Form.Label>{label}</Form.Label>
      <Form.Control className="num" placeholder="S-001" autoComplete="off" value={value} isInvalid={Boolean(error)} onChange={(event) => onChange(event.target.value)} />
      <Form.Control.Feedback type="invalid">{error}</Form.Control.Feedback>
    </Form.Group>
  );
}

/** I poured about so much into about so much: the fraction with its doubt, and whether that doubt matters. */
export default function AfterPage() {
  const [draft, setDraft] = useKept<Draft>("poured", { poured: null, pouredDoubt: null, into: null, intoDoubt: null, already: 0, base: "", additive: "", times: null });
  const set = (changes: Partial<Draft>) => setDraft((held) => ({ ...held, ...changes }));
  const ready = draft.poured !== null && draft.into !== null && draft.pouredDoubt !== null && draft.intoDoubt !== null;
  const given = {
    poured_ml: draft.poured ?? 0, poured_doubt_ml: draft.pouredDoubt ?? 0, into_ml: draft.into ?? 0, into_doubt_ml: draft.intoDoubt ?? 0, already: (draft.already ?? 0) / 100,
    base_set: whole(draft.base), additive_set: whole(draft.additive), times_exposure: draft.times, latitude_pct: null,
  };
  const asked = useQuery<Schemas["PouredView"], ApiError>({ queryKey: ["poured", given], queryFn: () => body(POST("/api/poured-about", { body: given })), enabled: ready, retry: false });
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
            <NumberField label="I poured about" unit="ml" value={draft.poured} onChange={(poured) => set({ poured })} error={errors.poured_ml} />
            <NumberField label="give or take" unit="ml" value={draft.pouredDoubt} onChange={(pouredDoubt) => set({ pouredDoubt })} error={errors.poured_doubt_ml} />
            <span />
            <NumberField label="into about" unit="ml" value={draft.into} onChange={(into) => set({ into })} error={errors.into_ml} />
            <NumberField label="give or take" unit="ml" value={draft.intoDoubt} onChange={(intoDoubt) => set({ intoDoubt })} error={errors.into_doubt_ml} />
            <NumberField label="which held of it already" unit="%" value={draft.already} onChange={(already) => set({ already })} error={errors.already} />
            <SetField label="Set of what was in the vat" value={draft.base} onChange={(base) => set({ base })} error={errors.base_set} />
            <SetField label="Set of what was poured" value={draft.additive} onChange={(additive) => set({ additive })} error={errors.additive_set} />
            <NumberField label="Or: it needs … times the exposure" value={draft.times} onChange={(times) => set({ times })} error={errors.times_exposure} />
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
                  That doubt moves the exposure by up to <b className="num">{decimal(held.exposure_doubt_pct, 1)} %</b>
                  {held.matters === null ? "." : held.matters ? ": more than a fifth of the window. Calibrate it before parts that matter." : ": little against the window."}
                </p>
              )}
              {view!.basis && <p className="text-secondary small">{view!.basis}</p>}
              {held.warnings.map((one) => (
                <p key={one.code} className="caution mb-0">
                  {one.message}
                </p>
              ))}
            </>
          ) : (
            <p className="text-secondary mb-0">Say how much went into how much, and how sure you are: the fraction follows with its doubt.</p>
          )}
        </aside>
      </div>
    </>
  );
}
