export const FORMATS = [
  ["stl", "STL"],
  ["3mf", "3MF"],
  ["masks", "Masks"],
  ["svg", "SVG"],
] as const;

/** The files of a coupon: solid, layer masks, drawing. */
export function FileLinks({
  name,
  href,
  layers,
}: {
  name: string;
  href: (format: string) => string;
  layers?: boolean;
}) {
  const formats = layers ? [...FORMATS, ["layers", "Layers as CSV"] as const] : FORMATS;
  return (
    <div className="d-flex flex-wrap gap-2">
      {formats.map(([format, word]) => (
        <a
          key={format}
          className="btn btn-quiet btn-sm d-inline-flex align-items-center"
          href={href(format)}
          download
          aria-label={`${word} of ${name}`}
        >
          {word}
        </a>
      ))}
    </div>
  );
}
