import Button from "react-bootstrap/Button";
import { useNavigate, useParams } from "react-router";
import { TextField } from "../../shared/fields/TextField";
import { PageHead } from "../../app/PageHead";
import { usePageKeys } from "../../app/shortcuts";
import { useTechnician } from "../../app/people/technician";
import { useSay } from "../../app/toasts";
import { body, POST, type Schemas } from "../../shared/api/client";
import { useSend } from "../../shared/api/useSend";
import { THIN } from "../../shared/format";
import { Loaded } from "../../shared/Loading";
import { Trouble } from "../../shared/Trouble";
import { useKept } from "../../shared/useKept";
import { type Draft, emptyDraft, toInput } from "./draft";
import { MarkDrawing } from "./MarkDrawing";
import { MarkFields } from "./MarkFields";
import { useMarking } from "./marking";
import "./reading.scss";
import { useGet } from "../../shared/api/useGet";

/** Read a coupon without seeing what the first reader saw. */
export default function BlindPage() {
  const { id = "" } = useParams();
  const query = useGet("/api/blind-readings/{blind_id}", { params: { path: { blind_id: id } } });
  return (
    <Loaded page query={query}>
      {(coupon) => (
        <>
          <PageHead
            title={`Second reading of ${coupon.code}`}
            sub={`${coupon.material} on ${coupon.printer}, ${coupon.layer_height_um}${THIN}µm · asked for by ${coupon.asked_by}`}
          />
          <BlindForm coupon={coupon} />
        </>
      )}
    </Loaded>
  );
}

function BlindForm({ coupon }: { coupon: Schemas["BlindCoupon"] }) {
  const { plan } = coupon;
  const say = useSay();
  const navigate = useNavigate();
  const { initials } = useTechnician();
  const [draft, setDraft, forget] = useKept<Draft>(`blind.${coupon.id}`, emptyDraft());
  const marking = useMarking(plan, draft, setDraft);
  const features = toInput(draft, plan, null).features;
  const save = useSend(
    (_: null, headers) =>
      body(
        POST("/api/blind-readings/{blind_id}", {
          params: { path: { blind_id: coupon.id } },
          body: { features, note: draft.note },
          headers,
        }),
      ),
    (made) => {
      forget();
      say(made.comparison?.summary ?? "The second reading is saved.");
      void navigate(`/coupons/${coupon.code}`);
    },
  );
  const same = initials !== null && initials === coupon.first_reader;
  const submit = () => {
    if (!marking.stop && initials && !same && features.length && !save.isPending) save.mutate(null);
  };
  usePageKeys([{ keys: "Ctrl Enter", hotkey: "ctrl+enter", does: "save", run: submit }]);
  return (
    <div className="reading">
      <MarkDrawing plan={plan} draft={draft} marking={marking} code={coupon.code} exposure={`${coupon.exposure_s}s`} />
      <aside className="panel entry" aria-label="Reading">
        <p>Read it as if nobody had. What the first reader saw is kept from you until you save.</p>
        {same && (
          <p className="trouble">
            {initials} made the first reading: another technician must make the second. Change the initials, top right.
          </p>
        )}
        <MarkFields plan={plan} draft={draft} onDraft={setDraft} marking={marking} errors={{}} />
        <TextField
          label="Note"
          value={draft.note}
          onChange={(text) => setDraft({ ...draft, note: text })}
          lines={2}
          className="mb-3"
        />
        {!initials && <p className="caution">Choose your initials first (top right): a reading carries who made it.</p>}
        <Trouble error={save.error} className="mb-2" />
        <Button
          ref={marking.saveButton}
          size="lg"
          className="w-100"
          disabled={!initials || same || !features.length || marking.stop || save.isPending}
          onClick={submit}
        >
          Save the second reading
        </Button>
      </aside>
      <div className="beside">
        {coupon.photo_ids.map((photo) => (
          <img key={photo} className="img-fluid" src={`/api/photos/${photo}`} alt={`Coupon ${coupon.code}`} />
        ))}
      </div>
    </div>
  );
}
