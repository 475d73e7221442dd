import { useState } from "react";
import Button from "react-bootstrap/Button";
import { useSay } from "../../app/toasts";
import { body, POST, PUT, type Schemas } from "../api/client";
import { useSend } from "../api/useSend";
import { NumberField } from "../fields/NumberField";
import { Loaded } from "../Loading";
import { StateMark } from "../StateMark";
import { useGet } from "../api/useGet";

/** The rule table: what makes due or lapses, what renews it, and the shop's own limits. */
export function Limits() {
  const query = useGet("/api/validity-rules");
  return (
    <Loaded query={query}>
      {(held) => (
        <div className="table-responsive">
          <table className="table table-sm mb-0" aria-label="Rules">
            <thead>
              <tr>
                <th scope="col">What</th>
                <th scope="col">Set status becomes</th>
                <th scope="col">Renewed by</th>
                <th scope="col">Limit here</th>
              </tr>
            </thead>
            <tbody>
              {held.rules.map((rule) => (
                <tr key={rule.key}>
                  <th scope="row">
                    {rule.name}
                    <small className="d-block fw-normal text-secondary">{rule.why}</small>
                  </th>
                  <td>
                    <StateMark name={rule.effect === "lapse" ? "lapsed" : "due"} />
                  </td>
                  <td>
                    {rule.renewed_by.map((one) => (one === "check" ? "check coupon" : "calibration")).join(" or ")}
                  </td>
                  <td>{rule.limit !== null && <Limit rule={rule} own={held.own.includes(rule.key)} />}</td>
                </tr>
              ))}
            </tbody>
          </table>
        </div>
      )}
    </Loaded>
  );
}

function Limit({ rule, own }: { rule: Schemas["Rule"]; own: boolean }) {
  const say = useSay();
  const [value, setValue] = useState<number | null>(rule.limit);
  const path = { params: { path: { key: rule.key } } };
  const back = useSend(
    (_: null) => body(POST("/api/validity-rules/{key}/forget", path)),
    () => say(`${rule.name}: as it ships again.`),
  );
  const save = useSend(
    (limit: number) =>
      body(PUT("/api/validity-rules/{key}/limit", { ...path, body: { limit, was: rule.limit ?? limit } })),
    () => say(`${rule.name}: from ${value} ${rule.unit} on.`, () => back.mutate(null)),
  );
  return (
    <form
      className="d-flex gap-2 align-items-end"
      onSubmit={(event) => {
        event.preventDefault();
        if (value !== null) save.mutate(value);
      }}
    >
      <NumberField
        label={`Limit of ${rule.name}`}
        hideLabel
        unit={rule.unit ?? undefined}
        value={value}
        onChange={setValue}
        error={save.error?.fields.limit}
      />
      {value !== null && value !== rule.limit && (
        <Button type="submit" size="sm" disabled={save.isPending}>
          Set
        </Button>
      )}
      {own && value === rule.limit && (
        <Button size="sm" variant="quiet" onClick={() => back.mutate(null)}>
          As shipped
        </Button>
      )}
    </form>
  );
}
