import { useState } from "react";
import Button from "react-bootstrap/Button";
import Table from "react-bootstrap/Table";
import { useSay } from "../../app/toasts";
import { body, POST } from "../../shared/api/client";
import { useGet } from "../../shared/api/useGet";
import { useSend } from "../../shared/api/useSend";
import { day, plain, roughly, THIN } from "../../shared/format";
import { ReasonDialog } from "../../shared/ReasonDialog";

/** Sets of other workshops that serve as a source. */
export function BorrowedPanel() {
  const say = useSay();
  const [gone, setGone] = useState<string | null>(null);
  const rows = useGet("/api/borrowed-sets", {}, { select: (answer) => answer.items });
  const restore = useSend(
    (code: string) => body(POST("/api/borrowed-sets/{code}/restore", { params: { path: { code } } })),
    () => void rows.refetch(),
  );
  const withdraw = useSend(
    ({ code, reason }: { code: string; reason: string }) =>
      body(POST("/api/borrowed-sets/{code}/withdraw", { params: { path: { code } }, body: { reason } })),
    (one) => {
      setGone(null);
      say(`${one.code} is withdrawn.`, () => restore.mutate(one.code));
      void rows.refetch();
    },
  );
  if (!rows.data?.length) return null;
  return (
    <section className="panel mt-3" aria-label="Borrowed from other workshops">
      <h2>Borrowed from other workshops</h2>
      <Table size="sm" responsive className="mb-0 align-middle">
        <tbody>
          {rows.data.map((one) => (
            <tr key={one.code}>
              <td className="num">{one.code}</td>
              <td>
                {one.material} on {one.printer}, {one.layer_height_um} µm
                <small className="d-block text-secondary">
                  {one.theirs.code} of {one.workshop}: {plain(one.theirs.exposure_s)}
                  {THIN}s on their {one.theirs.printer}, issued {day(one.theirs.issued_at)}
                </small>
              </td>
              <td>
                about{" "}
                <i className="num">
                  {roughly(one.exposure_s)}
                  {THIN}s
                </i>{" "}
                here, likely {roughly(one.low_s)} to {roughly(one.high_s)}
                <small className="d-block text-secondary">{one.carried.join("; ")}</small>
              </td>
              <td className="text-end">
                <Button size="sm" variant="quiet" aria-label={`Withdraw ${one.code}`} onClick={() => setGone(one.code)}>
                  Withdraw…
                </Button>
              </td>
            </tr>
          ))}
        </tbody>
      </Table>
      {gone && (
        <ReasonDialog
          title={`Withdraw ${gone}`}
          label="Why it no longer stands"
          action="Withdraw"
          saving={withdraw.isPending}
          error={withdraw.error}
          onClose={() => setGone(null)}
          onSave={(reason) => withdraw.mutate({ code: gone, reason })}
        />
      )}
    </section>
  );
}
