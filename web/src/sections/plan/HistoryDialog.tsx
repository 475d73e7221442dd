import Modal from "react-bootstrap/Modal";
import { useGet } from "../../shared/api/useGet";
import { decimal, THIN } from "../../shared/format";
import { Loaded } from "../../shared/Loading";
import { KINDS, type Step } from "./model";

/** How long steps were planned for, and how long they took here: from five on, it corrects the plan. */
export function HistoryDialog({ onClose }: { onClose: () => void }) {
  const query = useGet("/api/plan/history", {}, { select: (answer) => answer.items });
  return (
    <Modal show onHide={onClose} aria-label="Planned and real times">
      <Modal.Header closeButton>
        <Modal.Title as="h2" className="h3 m-0">
          Planned and real times
        </Modal.Title>
      </Modal.Header>
      <Modal.Body>
        <Loaded query={query}>
          {(rows) =>
            rows.length ? (
              <table className="table">
                <thead>
                  <tr>
                    <th>Step</th>
                    <th className="text-end">Ticked</th>
                    <th className="text-end">Planned, min</th>
                    <th className="text-end">Took, min</th>
                  </tr>
                </thead>
                <tbody>
                  {rows.map((row) => (
                    <tr key={row.kind}>
                      <td>{KINDS[row.kind as Step["kind"]].name}</td>
                      <td className="num text-end">{row.count}</td>
                      <td className="num text-end">{decimal(row.planned_min, 0)}</td>
                      <td className="num text-end">{decimal(row.took_min, 0)}</td>
                    </tr>
                  ))}
                </tbody>
              </table>
            ) : (
              <p className="mb-0">
                Nothing was ticked as begun and as done yet. Minutes of a reading come from the pauses between readings;
                those of a wash follow these ticks from five{THIN}on.
              </p>
            )
          }
        </Loaded>
      </Modal.Body>
    </Modal>
  );
}
