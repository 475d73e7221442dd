import Table from "react-bootstrap/Table";
import type { Schemas } from "../../shared/api/client";
import { millilitres, THIN, threeDigits } from "../../shared/format";

/** What a recipe gives: pours for a scale, price, and estimates, each with its basis. */
export function RecipeExpects({ quote, batch }: { quote: Schemas["RecipeQuote"] | undefined; batch: number | null }) {
  if (!quote)
    return (
      <aside className="panel">
        <p className="text-secondary m-0">Choose two parts and a share: pours, price and the first exposure follow.</p>
      </aside>
    );
  const { result } = quote;
  let scale = 0;
  const weighed = result.pours.every((one) => one.mass_g !== null);
  return (
    <aside className="panel" aria-label="What it gives" aria-live="polite">
      <h2>What to pour{batch ? ` for ${millilitres(batch)}` : ""}</h2>
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
                  {one.material} <span className="text-secondary small">{(100 * one.volume_fraction).toFixed(one.volume_fraction < 0.1 ? 1 : 0)} % vol{one.mass_fraction !== null && `, ${(100 * one.mass_fraction).toFixed(one.mass_fraction < 0.1 ? 1 : 0)} % mass`}</span>
                </td>
                <td className="num text-end">{one.volume_ml === null ? "" : millilitres(one.volume_ml)}</td>
                <td className="num text-end">{one.mass_g === null ? "–" : `${one.mass_g.toFixed(1)}${THIN}g`}</td>
                <td className="num text-end">{weighed ? `${scale.toFixed(1)}${THIN}g` : "–"}</td>
              </tr>
            );
          })}
        </tbody>
      </Table>
      <dl className="facts">
        {result.price_per_l !== null && (
          <>
            <dt>Price of a litre</dt>
            <dd className="num">{result.price_per_l.toFixed(2)}</dd>
          </>
        )}
        {result.price_per_part !== null && (
          <>
            <dt>Of a typical part</dt>
            <dd className="num">{result.price_per_part.toFixed(2)}</dd>
          </>
        )}
        {result.penetration_depth_mm !== null && (
          <>
            <dt>Penetration depth</dt>
            <dd className="num guess">
              ~{(1000 * result.penetration_depth_mm).toFixed(0)}
              {THIN}µm
            </dd>
          </>
        )}
        {result.viscosity_mpa_s !== null && (
          <>
            <dt>Viscosity at 25 °C</dt>
            <dd className="num guess">
              ~{threeDigits(result.viscosity_mpa_s)}
              {THIN}mPa·s
            </dd>
          </>
        )}
      </dl>
      <h2>First exposure, estimated</h2>
      {quote.exposures.length ? (
        <ul className="plain-list">
          {quote.exposures.map((one) => (
            <li key={`${one.printer_id}${one.layer_height_um}`}>
              {one.printer}, {one.layer_height_um}
              {THIN}µm:{" "}
              <b className="num guess">
                ~{one.exposure_s}
                {THIN}s
              </b>{" "}
              <span className="text-secondary small">
                {one.basis}
                {one.critical_exposure_s !== null && `; nothing cures below ~${threeDigits(one.critical_exposure_s)}${THIN}s, by depth squares here`}
              </span>
            </li>
          ))}
        </ul>
      ) : (
        <p className="text-secondary">Not foretold: no part has an issued set, or a dye’s effect is not measured.</p>
      )}
      <p className="small text-secondary mb-0">{[quote.depth_basis, quote.viscosity_basis].filter(Boolean).join("; ")}</p>
      {result.warnings.map((one) => (
        <p key={one.code} className="small text-secondary mb-1">
          {one.message}
        </p>
      ))}
    </aside>
  );
}
