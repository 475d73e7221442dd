import type { ApiError } from "../api/client";

/** What somebody entered beside what stands now, where the two differ. */
export function BothVersions({ differences }: { differences: ApiError["differences"] }) {
  if (!differences.length) return <p className="text-secondary mb-0">They differ in nothing that was entered.</p>;
  return (
    <table className="table table-sm mb-0">
      <thead>
        <tr>
          <th scope="col">What</th>
          <th scope="col">Yours</th>
          <th scope="col">What stands now</th>
        </tr>
      </thead>
      <tbody>
        {differences.map((one) => (
          <tr key={one.field}>
            <th scope="row" className="fw-normal">
              {one.words}
            </th>
            <td className="num text-break">{one.yours}</td>
            <td className="num text-break">{one.theirs}</td>
          </tr>
        ))}
      </tbody>
    </table>
  );
}
