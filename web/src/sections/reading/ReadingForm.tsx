import Button from "react-bootstrap/Button";
import Form from "react-bootstrap/Form";
import { useNavigate } from "react-router";
import { TextField } from "../../shared/fields/TextField";
import { useEntry, type Entry } from "../../shared/fields/useEntry";
import { usePageKeys } from "../../app/shortcuts";
import { useTechnician } from "../../app/people/technician";
import { useSay } from "../../app/toasts";
import { useQueryClient } from "@tanstack/react-query";
import { refresh } from "../../shared/api/refresh";
import { DraftNote } from "../../shared/fields/DraftNote";
import { body, POST, type ApiError } from "../../shared/api/client";
import { useSend } from "../../shared/api/useSend";
import { exposure, THIN } from "../../shared/format";
import { Trouble } from "../../shared/Trouble";
import { BlindReadings } from "./BlindReadings";
import { type Draft, draftOf, toInput, withFeatures } from "./draft";
import { FinishTimers } from "./FinishTimers";
import { History } from "./History";
import { keeperOf } from "./keptDraft";
import { LivePreview } from "./LivePreview";
import { MarkDrawing } from "./MarkDrawing";
import { MarkFields } from "./MarkFields";
import { useMarking } from "./marking";
import type { Background } from "../../shared/coupon/CouponDrawing";
import type { Coupon, Picture } from "./model";
import { PhotoPanel } from "./PhotoPanel";
import { ReadMeanwhile } from "./ReadMeanwhile";
import { ReadPicture } from "./ReadPicture";
import { SimulatedReader } from "./SimulatedReader";

/** Mark what you see on the drawing, or type it; the verdict and the strip follow while you do. */
export function ReadingForm({ coupon }: { coupon: Coupon }) {
  const { plan } = coupon;
  const navigate = useNavigate();
  const say = useSay();
  const { initials } = useTechnician();
  const keeper = keeperOf(coupon);
  const entry = useEntry<Draft>(() => draftOf(coupon.reading), keeper);
  const draft = entry.values;
  const marking = useMarking(plan, draft, entry.set);
  const { saveButton, stop } = marking;
  const input = toInput(draft, plan, coupon.latest_id);
  const touched = input.features.length > 0;
  const queries = useQueryClient();
  const readMeanwhile = entry.draft !== null && keeper.begunAfter !== coupon.latest_id;

  const withdraw = useSend((reading_id: string) =>
    body(
      POST("/api/coupons/{id_or_code}/withdraw", {
        params: { path: { id_or_code: coupon.code } },
        body: { reading_id, reason: "Undone right after saving" },
      }),
    ),
  );
  const save = useSend(
    (_: null, headers) =>
      body(
        POST("/api/coupons/{id_or_code}/readings", {
          params: { path: { id_or_code: coupon.code } },
          body: input,
          headers,
        }),
      ),
    (saved) => {
      const { latest_id } = saved;
      entry.forget();
      say(`The reading of ${coupon.code} is saved.`, latest_id ? () => withdraw.mutate(latest_id) : undefined);
      void navigate(afterReading(coupon, saved.next_unread));
    },
    {
      compares: true,
      waits: {
        words: () => `Reading of ${coupon.code}`,
        onKept() {
          entry.forget();
          say(`The reading of ${coupon.code} waits in this device.`);
          void navigate("/at-hand");
        },
      },
    },
  );
  const errors = featureErrors(
    save.error,
    input.features.map((feature) => feature.key),
  );
  const submit = () => {
    if (stop || !initials || save.isPending) return;
    // Somebody read it meanwhile: their reading comes beside this entry, which stays.
    save.mutate(null, { onError: (error) => void (error.status === 409 && refresh(queries)) });
  };

  usePageKeys([{ keys: "Ctrl Enter", hotkey: "ctrl+enter", does: "save", run: submit }]);

  return (
    // eslint-disable-next-line jsx-a11y/no-static-element-interactions -- Ctrl Enter saves from any of its fields
    <div
      className="reading"
      onKeyDown={(event) => {
        if (event.key === "Enter" && (event.ctrlKey || event.metaKey)) {
          event.preventDefault();
          submit();
        }
      }}
    >
      <MarkDrawing
        plan={plan}
        draft={draft}
        marking={marking}
        code={coupon.code}
        exposure={`${exposure(coupon.exposure_s, coupon.exposure_step_s)}s`}
        picture={coupon.picture && draft.pictureId === coupon.picture.id ? backgroundOf(coupon.picture, draft) : null}
      />
      <aside className="panel entry" aria-label="Reading">
        {coupon.finish && <p className="caution">Read after {coupon.finish}. An uncured reading is provisional.</p>}
        {coupon.printed_virtually && (
          <SimulatedReader coupon={coupon} onRead={(features) => entry.set(withFeatures(draft, features))} />
        )}
        <FinishTimers coupon={coupon} />
        {coupon.picture_by && (
          <ReadPicture
            coupon={coupon}
            draft={draft}
            onDraft={entry.set}
            onFill={(picture) => entry.set({ ...withFeatures(draft, picture.filled), pictureId: picture.id })}
          />
        )}
        <MarkFields plan={plan} draft={draft} onDraft={entry.set} marking={marking} errors={errors} />
        {readMeanwhile ? (
          <ReadMeanwhile coupon={coupon} draft={draft} onTakeTheirs={entry.draft?.discard} />
        ) : (
          <DraftNote entry={entry} />
        )}
        <StateAndNote entry={entry} corrects={coupon.latest_id !== null} reasonError={save.error?.fields.reason} />
        {!initials && (
          <p className="caution">
            Choose your initials first (top right): a reading carries who made it. What you enter is kept.
          </p>
        )}
        <Trouble error={save.error} className="mb-2" />
        <Button
          ref={saveButton}
          size="lg"
          className="w-100"
          disabled={!initials || save.isPending || stop}
          onClick={submit}
        >
          Save the reading
        </Button>
        <p className="text-secondary small mt-2 mb-0">
          Kept in this browser until it is saved.{THIN}
          {touched && (
            <Button
              variant="link"
              size="sm"
              className="p-0 align-baseline"
              onClick={() => entry.set(draftOf(coupon.reading))}
            >
              Start over
            </Button>
          )}
        </p>
      </aside>
      <div className="beside">
        <LivePreview coupon={coupon} input={input} touched={touched || draft.damaged} />
        <PhotoPanel coupon={coupon} />
        <BlindReadings coupon={coupon} />
        <History coupon={coupon} />
      </div>
    </div>
  );
}

const backgroundOf = (picture: Picture, draft: Draft): Background => ({
  href: `/api/pictures/${picture.id}/straight`,
  marginMm: picture.margin_mm,
  unsure: new Set(picture.asked.filter((key) => !draft.states[key])),
});

type StateProps = { entry: Entry<Draft>; corrects: boolean; reasonError: string | undefined };

/** In what state the coupon was read, a note, and why an earlier reading is corrected. */
function StateAndNote({ entry, corrects, reasonError }: StateProps) {
  const draft = entry.values;
  return (
    <>
      <h2>State</h2>
      <div className="mb-3">
        {(["damaged", "unwashed", "uncured"] as const).map((flag) => (
          <Form.Check
            key={flag}
            inline
            id={`flag-${flag}`}
            label={flag}
            checked={draft[flag]}
            onChange={(event) => entry.set({ [flag]: event.target.checked })}
          />
        ))}
        {(draft.damaged || draft.unwashed || draft.uncured) && (
          <Form.Text className="d-block">
            It is left out of the window, and named. It can be counted on purpose, with a reason.
          </Form.Text>
        )}
      </div>
      <TextField
        label="Note"
        value={draft.note}
        onChange={(text) => entry.set({ note: text })}
        lines={2}
        className="mb-3"
      />
      {corrects && (
        <TextField
          label="Why the earlier reading is corrected"
          value={draft.reason}
          onChange={(text) => entry.set({ reason: text })}
          error={reasonError && "Say why in a few words."}
          className="mb-3"
        />
      )}
    </>
  );
}

/** A check coupon leads back to the set it checks; any other to the next that waits, else to its calibration. */
function afterReading(coupon: Coupon, nextUnread: string | null | undefined): string {
  if (coupon.check_of) return `/sets/${coupon.check_of}`;
  return nextUnread ? `/coupons/${nextUnread}` : `/calibrate/${coupon.calibration_id}`;
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
