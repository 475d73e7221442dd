import { useState } from "react";
import Button from "react-bootstrap/Button";
import { Link } from "react-router";
import { useSay } from "../../app/toasts";
import { body, POST } from "../../shared/api/client";
import { useSend } from "../../shared/api/useSend";
import { THIN, plain } from "../../shared/format";
import { NO_START, type Start, startBody, StartTemperature } from "../../shared/StartTemperature";
import { Trouble } from "../../shared/Trouble";
import type { Group } from "./model";

/** A group with prints still to come, the next of them to be noted as printed, washed and cured; its age counts from then. */
export function GroupLine({ group, specimen }: { group: Group; specimen: string | null }) {
  const next = group.prints.find((one) => one.cured_at === null);
  return next ? <PrintLine key={next.id} group={group} print={next} specimen={specimen} /> : null;
}

function PrintLine({
  group,
  print,
  specimen,
}: {
  group: Group;
  print: Group["prints"][number];
  specimen: string | null;
}) {
  const say = useSay();
  const [start, setStart] = useState<Start>({ ...NO_START, place: "resin" });
  const path = { params: { path: { print_id: print.id } } };
  const undo = useSend(() => body(POST("/api/test-prints/{print_id}/unmade", path)));
  const made = useSend(
    () =>
      body(
        POST("/api/test-prints/{print_id}/made", {
          ...path,
          body: { ...startBody(start), cured: true, outcome: "whole", seen: "", volume_ml: null, bottle_id: null },
        }),
      ),
    () => say(`${print.code} of ${group.name}: printed and cured.`, () => undo.mutate(undefined)),
  );
  const errors = made.error?.fields ?? {};
  return (
    <div className="group-fields" role="group" aria-label={group.name}>
      <p className="mb-2">
        <b>{group.name}</b>{" "}
        <span className="num">
          {print.code}
          {group.prints.length > 1 && `, print ${print.number} of ${group.prints.length}`}
        </span>{" "}
        <span className="text-secondary">
          {[
            group.set_code,
            group.printer,
            group.exposure_s !== null && `${plain(group.exposure_s)}${THIN}s`,
            group.route,
            group.cure_min !== null && `cure ${group.cure_min}${THIN}min`,
            group.orientation,
            group.supports,
          ]
            .filter(Boolean)
            .join(" · ")}
        </span>
        {specimen && (
          <>
            {" "}
            <Link to={`/shelf/coupons/${specimen}`}>files of the specimen</Link>
          </>
        )}
      </p>
      <div className="start-fields">
        <StartTemperature
          printer={group.printer_id}
          setCode={group.set_code}
          value={start}
          onChange={setStart}
          errors={errors}
        />
      </div>
      <div className="mt-2">
        <Button disabled={made.isPending} onClick={() => made.mutate(undefined)}>
          Printed and cured
        </Button>
      </div>
      <Trouble
        error={
          made.error && !errors.temp_c && !errors.temp_place && !errors.outside_band ? made.error : (undo.error ?? null)
        }
        className="mt-2"
      />
    </div>
  );
}
