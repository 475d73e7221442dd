import { Fragment } from "react";
import Table from "react-bootstrap/Table";
import type { Schemas } from "../../shared/api/client";
import { millilitres, roughly, THIN, threeDigits, temperature, decimal, shareOf } from "../../shared/format";

type Quote = Schemas["RecipeQuote"];

/** What a recipe gives: pours for a scale, price, and estimates, each with its basis. */
export function RecipeExpects({ quote, batch }: { quote: Quote | undefined; batch: number | null }) {
  if (!quote)
    return (
      <aside className="panel">
        <p className="text-secondary m-0">Choose two parts and a share: pours, price and the first exposure follow.</p>
      </aside>
    );
  return (
    <aside className="panel" aria-label="Result so far" aria-live="polite">
      <h2>What to pour{batch ? ` for ${millilitres(batch)}` : ""}</h2>
      <Pours result={quote.result} />
      <Estimates quote={quote} />
      <h2>First exposure, estimated</h2>
      <FirstExposures quote={quote} />
      {quote.result.warnings.map((one) => (
        <p key={one.code} className="small text-secondary mb-1">
          {one.message}
        </p>
      ))}
    </aside>
  );
}

function Pours({ result }: { result: Quote["result"] }) {
  let scale = 0;
  const weighed = result.pours.every((one) => one.mass_g !== null);
  return (
    <Table size="sm" aria-label="Pours">
      <thead>
        <tr>
          <th>Part</th>
          <th className="text-end">Volume</th>
          <th className="text-end">Mass</th>
          <th className="text-end">Scale shows</th>
        </tr>
      </thead>
      <tbody>
        {result.pours.map((one) => {
          scale += one.mass_g ?? 0;
          return (
            <tr key={one.material}>
              <td>
                {one.material}{" "}
                <span className="text-secondary small">
                  {shareOf(one.volume_fraction)} vol
                  {one.mass_fraction !== null && `, ${shareOf(one.mass_fraction)} mass`}
                </span>
              </td>
              <td className="num text-end">{one.volume_ml === null ? "" : millilitres(one.volume_ml)}</td>
              <td className="num text-end">{one.mass_g === null ? "–" : `${decimal(one.mass_g, 1)}${THIN}g`}</td>
              <td className="num text-end">{weighed ? `${decimal(scale, 1)}${THIN}g` : "–"}</td>
            </tr>
          );
        })}
      </tbody>
    </Table>
  );
}

/** Price, depth and viscosity; a mixing rule gives two digits at most. */
function Estimates({ quote: { result, depth_basis, viscosity_basis } }: { quote: Quote }) {
  const lines = [
    ["Price per litre", result.price_per_l && decimal(result.price_per_l, 2), null],
    ["Of a typical part", result.price_per_part && decimal(result.price_per_part, 2), null],
    [
      "Penetration depth",
      result.penetration_depth_mm && `~${roughly(1000 * result.penetration_depth_mm)}${THIN}µm`,
      depth_basis,
    ],
    [
      `Viscosity at ${temperature(25)}`,
      result.viscosity_mpa_s && `~${roughly(result.viscosity_mpa_s)}${THIN}mPa·s`,
      viscosity_basis,
    ],
  ] as const;
  return (
    <dl className="facts">
      {lines
        .filter(([, value]) => value)
        .map(([name, value, basis]) => (
          <Fragment key={name}>
            <dt>
              {name}
              {basis && <small className="d-block text-secondary">{basis}</small>}
            </dt>
            <dd className={`num ${String(value).startsWith("~") ? "guess" : ""}`}>{value}</dd>
          </Fragment>
        ))}
    </dl>
  );
}

function FirstExposures({ quote }: { quote: Quote }) {
  if (!quote.exposures.length)
    return (
      <p className="text-secondary">
        Cannot be predicted from its components: none has an issued set, or a dye’s effect is not measured. The Board
        estimates from other materials.
      </p>
    );
  return (
    <ul className="plain-list">
      {quote.exposures.map((one) => (
        <li key={`${one.printer_id}${one.layer_height_um}`}>
          {one.printer}, {one.layer_height_um}
          {THIN}µm:{" "}
          <b className="num guess">
            ~{roughly(one.exposure_s)}
            {THIN}s
          </b>{" "}
          <span className="text-secondary small">
            {one.basis}
            {one.critical_exposure_s !== null &&
              `; nothing cures below ~${threeDigits(one.critical_exposure_s)}${THIN}s, by depth squares here`}
          </span>
        </li>
      ))}
    </ul>
  );
}
