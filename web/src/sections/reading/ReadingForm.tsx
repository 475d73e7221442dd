import { useEffect, useMemo, useRef, useState } from "react";
import Button from "react-bootstrap/Button";
import ButtonGroup from "react-bootstrap/ButtonGroup";
import Form from "react-bootstrap/Form";
import { useNavigate } from "react-router";
import { usePageKeys } from "../../app/shortcuts";
import { useTechnician } from "../../app/technician";
import { useSay } from "../../app/toasts";
import { body, POST, type ApiError } from "../../shared/api/client";
import { useSend } from "../../shared/api/useSend";
import { CouponDrawing, type PlanFeature } from "../../shared/coupon/CouponDrawing";
import { NumberField } from "../../shared/fields/NumberField";
import { exposure, size, THIN } from "../../shared/format";
import { Trouble } from "../../shared/Trouble";
import { count, counted, draftOf, isCounted, rowsOf, tap, toInput, type Mode, type Row } from "./draft";
import { History } from "./History";
import { LivePreview } from "./LivePreview";
import { PhotoPanel } from "./PhotoPanel";
import { useKeptDraft } from "./keptDraft";
import type { Coupon } from "./model";

const MODES: [Mode, string, string][] = [
  ["series", "Series", "Tap the thinnest wall that stands and the narrowest slot still open, on each side; tap each tip"],
  ["single", "One by one", "Each tap goes round: formed, absent, in part, not read"],
  ["strike", "Strike out", "Tap what was lost in handling: it is not counted at all"],
];
const KIND_ROWS: Record<Row["kind"], string> = { wall: "Walls standing", slot: "Slots open", tip: "Tips held" };

/** Mark what you see on the drawing, or type it; the verdict and the strip follow while you do. */
export function ReadingForm({ coupon }: { coupon: Coupon }) {
  const { plan } = coupon;
  const navigate = useNavigate();
  const say = useSay();
  const { initials } = useTechnician();
  const [draft, setDraft, forget] = useKeptDraft(coupon);
  const [mode, setMode] = useState<Mode>("series");
  const [bad, setBad] = useState<Record<string, string>>({});
  const [focus, setFocus] = useState<string | null>(null);
  const fields = useRef<Record<string, HTMLInputElement | null>>({});
  const saveButton = useRef<HTMLButtonElement>(null);
  const rows = useMemo(() => rowsOf(plan), [plan]);
  const calipers = useMemo(() => plan.features.filter((feature) => !isCounted(feature)), [plan]);
  const order = [...rows.map((row) => row.key), ...calipers.map((feature) => feature.key)];
  const input = toInput(draft, plan, coupon.latest_id);
  const touched = input.features.length > 0;

  const withdraw = useSend((reading_id: string) =>
    body(POST("/api/coupons/{id_or_code}/withdraw", { params: { path: { id_or_code: coupon.code } }, body: { reading_id, reason: "Undone right after saving" } })),
  );
  const save = useSend(
    (_: null, headers) => body(POST("/api/coupons/{id_or_code}/readings", { params: { path: { id_or_code: coupon.code } }, body: input, headers })),
    (saved) => {
      forget();
      say(`The reading of ${coupon.code} is saved.`, () => withdraw.mutate(saved.latest_id!));
      void navigate(saved.next_unread ? `/coupons/${saved.next_unread}` : `/calibrate/${coupon.calibration_id}`);
    },
  );
  const errors = featureErrors(save.error, input.features.map((feature) => feature.key));
  const stop = Object.keys(bad).length > 0;
  const submit = () => {
    if (!stop && initials && !save.isPending) save.mutate(null);
  };

  function onTap(feature: PlanFeature) {
    if (!isCounted(feature) && mode !== "strike") fields.current[feature.key]?.focus();
    else setDraft(tap(draft, plan, feature, mode));
  }
  function onward(key: string) {
    const next = order[order.indexOf(key) + 1];
    if (next) fields.current[next]?.focus();
    else saveButton.current?.focus();
  }
  function note(key: string, problem: string | null) {
    setBad((all) => {
      const { [key]: _, ...rest } = all;
      return problem ? { ...rest, [key]: problem } : rest;
    });
  }
  function countRow(row: Row, value: number | null) {
    if (value === null) return;
    const most = row.features.length;
    const wrong = !Number.isInteger(value) || value < 0 || value > most;
    note(row.key, wrong ? `There are ${most}: give 0 to ${most}.` : null);
    if (!wrong) setDraft(count(draft, row, value));
  }
  usePageKeys([
    { keys: "Tab Enter", does: "next field" },
    { keys: "s", does: "tap series", run: () => setMode("series") },
    { keys: "o", does: "tap one by one", run: () => setMode("single") },
    { keys: "x", does: "strike out", run: () => setMode("strike") },
    { keys: "Ctrl Enter", hotkey: "ctrl+enter", does: "save", run: submit },
  ]);
  const halves = useNarrow();
  const drawing = { plan, states: draft.states, measured: draft.measured, code: coupon.code, exposure: `${exposure(coupon.exposure_s, coupon.exposure_step_s)}s`, onTap, highlight: focus };

  return (
    <div
      className="reading"
      onKeyDown={(event) => {
        if (event.key === "Enter" && (event.ctrlKey || event.metaKey)) {
          event.preventDefault();
          submit();
        }
      }}
    >
        <div className="plan">
          <div className="d-flex flex-wrap gap-2 align-items-center mb-2">
            <ButtonGroup className="modes" aria-label="What a tap means">
              {MODES.map(([value, name]) => (
                <Button key={value} variant={mode === value ? "primary" : "quiet"} aria-pressed={mode === value} onClick={() => setMode(value)}>
                  {name}
                </Button>
              ))}
            </ButtonGroup>
            <span className="text-secondary small flex-grow-1">{MODES.find(([value]) => value === mode)![2]}.</span>
          </div>
          {halves ? (
            <div className="d-grid gap-2">
              <CouponDrawing {...drawing} part={[0, plan.width_mm / 2]} label={`${plan.title}, left half`} />
              <CouponDrawing {...drawing} part={[plan.width_mm / 2, plan.width_mm]} label={`${plan.title}, right half`} />
            </div>
          ) : (
            <CouponDrawing {...drawing} label={`${plan.title} ${coupon.code}`} />
          )}
        </div>
      <aside className="panel entry" aria-label="Reading">
        {coupon.finish && <p className="caution">Read after {coupon.finish}. An uncured reading is provisional.</p>}
        <h2>Counts</h2>
        <div className="counts mb-3">
          {rows.map((row) => (
            <NumberField
              key={row.key}
              ref={(element) => void (fields.current[row.key] = element)}
              label={`${KIND_ROWS[row.kind]}, ${rowSide(row)}`}
              value={counted(draft, row)}
              onChange={(value) => countRow(row, value)}
              onBad={(isBad) => note(row.key, isBad ? "Give a whole number." : null)}
              error={bad[row.key]}
              hint={`of ${row.features.filter((feature) => draft.states[feature.key] !== "lost").length}`}
              onEnter={() => onward(row.key)}
            />
          ))}
        </div>
        {calipers.length > 0 && (
          <>
            <h2>Calipers</h2>
            <div className="counts mb-3">
              {calipers.map((feature) => (
                <div key={feature.key} onFocus={() => setFocus(feature.key)} onBlur={() => setFocus(null)}>
                  <NumberField
                    ref={(element) => void (fields.current[feature.key] = element)}
                    label={`${feature.kind === "outer" ? "Bar" : "Notch"} ${size(feature.size_mm)} along ${feature.axis?.toUpperCase()}`}
                    unit="mm"
                    value={draft.measured[feature.key] ?? null}
                    disabled={draft.states[feature.key] === "lost"}
                    onChange={(value) => setDraft({ ...draft, measured: { ...draft.measured, [feature.key]: value } })}
                    onBad={(isBad) => note(feature.key, isBad ? "Give a number." : null)}
                    error={errors[feature.key]}
                    onEnter={() => onward(feature.key)}
                  />
                </div>
              ))}
            </div>
          </>
        )}
        <h2>State</h2>
        <div className="mb-3">
          {(["damaged", "unwashed", "uncured"] as const).map((flag) => (
            <Form.Check key={flag} inline id={`flag-${flag}`} label={flag} checked={draft[flag]} onChange={(event) => setDraft({ ...draft, [flag]: event.target.checked })} />
          ))}
          {(draft.damaged || draft.unwashed || draft.uncured) && <Form.Text className="d-block">It is left out of the window, and named. It can be counted on purpose, with a reason.</Form.Text>}
        </div>
        <Form.Group controlId="reading-note" className="mb-3">
          <Form.Label>Note</Form.Label>
          <Form.Control as="textarea" rows={2} value={draft.note} onChange={(event) => setDraft({ ...draft, note: event.target.value })} />
        </Form.Group>
        {coupon.latest_id && (
          <Form.Group controlId="reading-reason" className="mb-3">
            <Form.Label>Why the earlier reading is corrected</Form.Label>
            <Form.Control value={draft.reason} isInvalid={Boolean(save.error?.fields.reason)} onChange={(event) => setDraft({ ...draft, reason: event.target.value })} />
            <Form.Control.Feedback type="invalid">Say why in a few words.</Form.Control.Feedback>
          </Form.Group>
        )}
        {!initials && <p className="caution">Choose your initials first (top right): a reading carries who made it. What you enter is kept.</p>}
        <Trouble error={save.error} className="mb-2" />
        <Button ref={saveButton} size="lg" className="w-100" disabled={!initials || save.isPending || stop} onClick={submit}>
          Save the reading
        </Button>
        <p className="text-secondary small mt-2 mb-0">
          Kept in this browser until it is saved.{THIN}
          {touched && (
            <Button variant="link" size="sm" className="p-0 align-baseline" onClick={() => setDraft(draftOf(coupon.reading))}>
              Start over
            </Button>
          )}
        </p>
      </aside>
      <div className="beside">
        <LivePreview coupon={coupon} input={input} touched={touched || draft.damaged} />
        <PhotoPanel coupon={coupon} />
        <History coupon={coupon} />
      </div>
    </div>
  );
}

function rowSide(row: Row): string {
  if (row.kind !== "tip") return row.side;
  return row.side === "left" ? "upper row" : "lower row";
}

/** Messages of the server by feature key, from their place in what was sent. */
function featureErrors(error: ApiError | null, keys: string[]): Record<string, string> {
  const found: Record<string, string> = {};
  for (const [path, message] of Object.entries(error?.fields ?? {})) {
    const index = /^features\.(\d+)\./.exec(path)?.[1];
    const key = index === undefined ? undefined : keys[Number(index)];
    if (key) found[key] = message;
  }
  return found;
}

function useNarrow(): boolean {
  const query = useMemo(() => window.matchMedia("(max-width: 620px)"), []);
  const [narrow, setNarrow] = useState(query.matches);
  useEffect(() => {
    const follow = () => setNarrow(query.matches);
    query.addEventListener("change", follow);
    return () => query.removeEventListener("change", follow);
  }, [query]);
  return narrow;
}
