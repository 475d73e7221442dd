import type { Schemas } from "../api/client";
import { THIN } from "../format";

/** What a degree warmer does to exposure, in words and with its uncertainty; no more digits than the uncertainty allows. */
export function perDegree(effect: Pick<Schemas["TemperatureEffectResult"], "percent_per_c" | "percent_per_c_ci">): {
  change: string;
  uncertainty: string | null;
  /** What leads: the change where it is shown, else that none is; then the numbers. */
  headline: string;
  rest: string;
} {
  const ci = effect.percent_per_c_ci;
  const digits = ci && ci[1] - ci[0] >= 4 ? 0 : 1;
  const share = (value: number) => `${Math.abs(value).toFixed(digits)}${THIN}%`;
  const way = (value: number) => (value < 0 ? "less" : "more");
  const uncertainty =
    ci &&
    (way(ci[0]) === way(ci[1])
      ? ci
          .map((end) => Math.abs(end).toFixed(digits))
          .sort((a, b) => Number(a) - Number(b))
          .join(" to ") + `${THIN}%`
      : ci.map((end) => `${share(end)} ${way(end)}`).join(" to "));
  const change = `${share(effect.percent_per_c)} ${way(effect.percent_per_c)}`;
  const isShown = ci !== null && way(ci[0]) === way(ci[1]);
  if (ci !== null && !isShown)
    return { change, uncertainty, headline: "No effect shown", rest: `(${uncertainty} exposure per °C warmer)` };
  const sureness = uncertainty ? `(${uncertainty})` : "(how sure is not known: two temperatures)";
  return { change, uncertainty, headline: change, rest: `exposure per °C warmer ${sureness}` };
}
