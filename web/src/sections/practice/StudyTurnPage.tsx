import { useMutation, useQueryClient } from "@tanstack/react-query";
import { useRef, useState } from "react";
import Button from "react-bootstrap/Button";
import Form from "react-bootstrap/Form";
import { Link, useParams, useSearchParams } from "react-router";
import { PageHead } from "../../app/PageHead";
import { usePageKeys } from "../../app/shortcuts";
import { type ApiError, body, POST, upload } from "../../shared/api/client";
import { refresh } from "../../shared/api/refresh";
import { takeTouched } from "../../shared/api/touched";
import { useGet } from "../../shared/api/useGet";
import { useSend } from "../../shared/api/useSend";
import { CouponDrawing, type States } from "../../shared/coupon/CouponDrawing";
import { NumberField } from "../../shared/fields/NumberField";
import { signed, THIN } from "../../shared/format";
import { Loaded } from "../../shared/Loading";
import { Trouble } from "../../shared/Trouble";
import { PicturePicker } from "../reading/PicturePicker";
import type { Study, Turn } from "./studies";
import "./practice.scss";

/** The next reading of whoever works, or of the picture reader: the coupon to take, and nothing of what was read before. */
export default function StudyTurnPage() {
  const { code = "" } = useParams();
  const [search] = useSearchParams();
  const reader = search.get("reader") === "picture" ? "picture" : "me";
  const query = useGet("/api/gauge-studies/{id_or_code}/next", {
    params: { path: { id_or_code: code }, query: { reader } },
  });
  return (
    <>
      <PageHead title={`Gauge study ${code}`}>
        <Link className="btn btn-quiet" to={`/practice/studies/${code}`}>
          How far everybody is
        </Link>
      </PageHead>
      <Loaded query={query}>
        {({ turn }) =>
          turn ? (
            turn.is_picture_reader ? (
              <PictureTurn key={turn.turn_id} turn={turn} />
            ) : (
              <PersonTurn key={turn.turn_id} turn={turn} />
            )
          ) : (
            <div className="empty">
              <p>Everything is read here. Thank you.</p>
              <Link className="btn btn-primary" to={`/practice/studies/${code}`}>
                To the study
              </Link>
            </div>
          )
        }
      </Loaded>
    </>
  );
}

function Heading({ turn }: { turn: Turn }) {
  return (
    <>
      <h2>
        Take coupon <span className="num">{turn.coupon}</span>
      </h2>
      <p className="text-secondary">
        {turn.reader}, reading {turn.place} of {turn.of}. Read it as if for the first time.
      </p>
    </>
  );
}

function Undo({ turn }: { turn: Turn }) {
  const undo = useSend((_: null, headers) =>
    body(
      POST("/api/gauge-studies/{id_or_code}/undo", {
        params: { path: { id_or_code: turn.study } },
        body: { reader: turn.is_picture_reader ? "picture" : "me" },
        headers,
      }),
    ),
  );
  return turn.can_undo ? (
    <>
      <Button variant="quiet" disabled={undo.isPending} onClick={() => undo.mutate(null)}>
        Make the last reading again
      </Button>
      <Trouble error={undo.error} />
    </>
  ) : null;
}

function PersonTurn({ turn }: { turn: Turn }) {
  const [outer, setOuter] = useState<number | null>(null);
  const [inner, setInner] = useState<number | null>(null);
  const [step, setStep] = useState<string | null>(null);
  const second = useRef<HTMLInputElement>(null);
  const [focus, setFocus] = useState<string | null>(turn.outer?.key ?? null);
  const save = useSend((_: null, headers) =>
    body(
      POST("/api/gauge-turns/{turn_id}/reading", {
        params: { path: { turn_id: turn.turn_id } },
        body: { outer_mm: outer, inner_mm: inner, step_key: step },
        headers,
      }),
    ),
  );
  const errors = save.error?.fields ?? {};
  const isElsewhere = save.error !== null && !("outer_mm" in errors || "inner_mm" in errors || "step_key" in errors);
  usePageKeys([
    { keys: "Ctrl Enter", hotkey: "ctrl+enter", does: "save and take the next", run: () => save.mutate(null) },
  ]);
  const states: States = step ? { [step]: "formed" } : {};
  const steps = turn.plan.features.filter((one) => one.kind === "taper");
  return (
    <form
      className="turn"
      onSubmit={(event) => {
        event.preventDefault();
        save.mutate(null);
      }}
    >
      <div className="panel">
        <CouponDrawing
          plan={turn.plan}
          states={states}
          code={turn.coupon}
          highlight={focus}
          label={`Where to measure ${turn.coupon}`}
          onTap={(feature) => {
            if (turn.measure === "plug" && feature.kind === "taper") setStep(feature.key);
          }}
        />
      </div>
      <div className="panel d-grid gap-3">
        <div>
          <Heading turn={turn} />
        </div>
        {turn.measure === "edges" && turn.outer && turn.inner && (
          <>
            <div onFocus={() => setFocus(turn.outer?.key ?? null)}>
              <NumberField
                label={`Over the ${turn.outer.size_mm}${THIN}mm bar along ${(turn.outer.axis ?? "").toUpperCase()}`}
                unit="mm"
                value={outer}
                onChange={setOuter}
                error={errors.outer_mm}
                onEnter={() => second.current?.focus()}
                autoFocus
              />
            </div>
            <div onFocus={() => setFocus(turn.inner?.key ?? null)}>
              <NumberField
                ref={second}
                label={`Across the ${turn.inner.size_mm}${THIN}mm notch along ${(turn.inner.axis ?? "").toUpperCase()}`}
                unit="mm"
                value={inner}
                onChange={setInner}
                error={errors.inner_mm}
                onEnter={() => save.mutate(null)}
              />
            </div>
          </>
        )}
        {turn.measure === "plug" && (
          <Form.Group controlId="turn-step">
            <Form.Label>Step at which the taper plug stopped</Form.Label>
            <Form.Select
              value={step ?? ""}
              isInvalid={Boolean(errors.step_key)}
              onChange={(event) => setStep(event.target.value || null)}
            >
              <option value="">Choose…</option>
              {steps.map((one, index) => (
                <option key={one.key} value={one.key}>
                  {index + 1}: drawn {signed(1000 * one.size_mm)}
                  {THIN}µm
                </option>
              ))}
            </Form.Select>
            <Form.Control.Feedback type="invalid">{errors.step_key}</Form.Control.Feedback>
          </Form.Group>
        )}
        <Trouble error={isElsewhere ? save.error : null} />
        <Button type="submit" size="lg" disabled={save.isPending}>
          Save and take the next
        </Button>
        <Undo turn={turn} />
      </div>
    </form>
  );
}

function PictureTurn({ turn }: { turn: Turn }) {
  const queries = useQueryClient();
  const [dpi, setDpi] = useState<number | null>(turn.measure === "edges" ? 600 : null);
  const read = useMutation<Study, ApiError, File>({
    mutationFn: (file) =>
      upload(`/api/gauge-turns/${turn.turn_id}/picture${dpi ? `?dots_per_inch=${dpi}` : ""}`, "picture", file),
    onSuccess: () => void refresh(queries, takeTouched()),
  });
  return (
    <section className="panel d-grid gap-3" aria-label="The picture reader’s turn">
      <div>
        <Heading turn={turn} />
        <p className="mb-0">
          Take it off the glass and lay it anew for each turn, so that laying it is part of what is tested.
        </p>
      </div>
      <div>
        <PicturePicker
          words="Choose the picture"
          reading={read.isPending}
          dpi={dpi}
          onDpi={setDpi}
          onPick={(file) => read.mutate(file)}
        />
      </div>
      <Trouble error={read.error} />
      <div>
        <Undo turn={turn} />
      </div>
    </section>
  );
}
