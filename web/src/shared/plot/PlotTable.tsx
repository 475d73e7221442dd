type Props = { name: string; head?: string[]; rows: (string | number | null)[][] };

/** What a plot shows, as a table for people who hear the page; the first cell of a row names it. */
export function PlotTable({ name, head, rows }: Props) {
  // A table keeps its own width, so the box around it hides it.
  return (
    <div className="visually-hidden">
      <table>
        <caption>{name}</caption>
        {head && (
          <thead>
            <tr>
              {head.map((one) => (
                <th key={one} scope="col">
                  {one}
                </th>
              ))}
            </tr>
          </thead>
        )}
        <tbody>
          {rows.map(([first, ...rest], index) => (
            <tr key={index}>
              <th scope="row">{first}</th>
              {rest.map((cell, at) => (
                <td key={at}>{cell}</td>
              ))}
            </tr>
          ))}
        </tbody>
      </table>
    </div>
  );
}
