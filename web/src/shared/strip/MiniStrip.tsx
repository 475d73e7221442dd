import { THIN, threeDigits, plain } from "../format";
import { exposureAxis, ticks } from "./axis";
import "./strip.scss";

type Props = {
  axis: [number, number];
  window?: [number, number] | null;
  exposure?: number | null;
  /** Range tried so far, for a calibration under way. */
  tried?: [number, number] | null;
  /** A first estimate: a hollow mark in its interval. */
  guess?: number | null;
  /** What the set says no longer holds. */
  lapsed?: boolean;
  /** The window rests on prints of parts alone. */
  fromPrints?: boolean;
  /** Numbers under the ticks, where there is room for them. */
  labelled?: boolean;
};

/** A small exposure strip on a shared axis: the window as a band, the issued exposure as a line. */
export function MiniStrip({ axis, window, exposure, tried, guess, lapsed, fromPrints, labelled }: Props) {
  const scale = exposureAxis(axis[0], axis[1], 2, 198);
  const said = [
    exposure ? `exposure ${exposure} s` : "",
    window ? `window ${threeDigits(window[0])} to ${threeDigits(window[1])} s${fromPrints ? ", from prints" : ""}` : "",
    guess ? `estimate ${threeDigits(guess)} s` : "",
    tried ? `${guess ? "likely" : "tried"} ${threeDigits(tried[0])} to ${threeDigits(tried[1])} s` : "",
  ].filter(Boolean);
  if (!said.length) said.push("nothing printed yet");
  const strip = (
    <svg className="mini-strip" viewBox="0 0 200 20" preserveAspectRatio="none" role="img" aria-label={said.join(", ")}>
      <title>{said.join(`,${THIN}`)}</title>
      <line x1={2} x2={198} y1={11} y2={11} vectorEffect="non-scaling-stroke" />
      {ticks(scale, labelled ? 16 : 30).map((value) => (
        <line key={value} x1={scale(value)} x2={scale(value)} y1={8} y2={14} vectorEffect="non-scaling-stroke" />
      ))}
      {window && (
        <rect
          className={`window ${lapsed ? "gone" : ""} ${fromPrints ? "hollow" : ""}`}
          vectorEffect="non-scaling-stroke"
          x={scale(window[0])}
          y={5}
          width={Math.max(scale(window[1]) - scale(window[0]), 1)}
          height={12}
          rx={1}
        />
      )}
      {tried && (
        <line
          className="tried"
          x1={scale(tried[0])}
          x2={Math.max(scale(tried[1]), scale(tried[0]) + 2)}
          y1={11}
          y2={11}
          vectorEffect="non-scaling-stroke"
        />
      )}
      {guess &&
        ["guess", "guess inner"].map((name) => (
          <line
            key={name}
            className={name}
            x1={scale(guess)}
            x2={scale(guess)}
            y1={11}
            y2={11}
            vectorEffect="non-scaling-stroke"
          />
        ))}
      {exposure && (
        <line
          className="exposure"
          x1={scale(exposure)}
          x2={scale(exposure)}
          y1={2}
          y2={20}
          vectorEffect="non-scaling-stroke"
        />
      )}
    </svg>
  );
  if (!labelled) return strip;
  return (
    <div className="labelled-strip">
      {strip}
      {ticks(scale, 16).map((value) => (
        <span key={value} className="num" style={{ left: `${scale(value) / 2}%` }}>
          {plain(value)}
        </span>
      ))}
    </div>
  );
}
