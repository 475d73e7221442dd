import Button from "react-bootstrap/Button";
import { body, POST } from "../../shared/api/client";
import { useGet } from "../../shared/api/useGet";
import { useSend } from "../../shared/api/useSend";
import { FormDialog } from "../../shared/fields/FormDialog";
import { Choice } from "../../shared/fields/Choice";
import { TextField } from "../../shared/fields/TextField";
import { useEntry } from "../../shared/fields/useEntry";
import { moment } from "../../shared/format";
import { Trouble } from "../../shared/Trouble";
import { momentOf } from "../prints/moments";
import type { Plan } from "./model";

/** A printer that cannot be used for a while: its prints wait, or are planned after it. */
export function PrinterDownDialog({ plan, onClose }: { plan: Plan; onClose: () => void }) {
  const printers = useGet(
    "/api/printers",
    { params: { query: { retired: false, limit: 200, after: "" } } },
    { select: (answer) => answer.items },
  );
  const entry = useEntry({ printer_id: "", reason: "", until_at: "" });
  const { printer_id, reason, until_at } = entry.values;
  const down = useSend(
    (_: null) =>
      body(
        POST("/api/printers/{printer_id}/down", {
          params: { path: { printer_id } },
          body: { reason, until_at: momentOf(until_at) },
        }),
      ),
    onClose,
  );
  const back = useSend((id: string) =>
    body(POST("/api/printers/{printer_id}/back", { params: { path: { printer_id: id } } })),
  );
  const { field, elsewhere } = entry.checked(down.error);
  const up = (printers.data ?? []).filter((one) => !plan.down.some((row) => row.printer_id === one.id));
  return (
    <FormDialog
      title="A printer is down or back"
      action="It is down"
      saving={down.isPending}
      error={elsewhere}
      ready={printer_id !== "" && reason.trim() !== ""}
      onSave={() => down.mutate(null)}
      onClose={onClose}
    >
      {plan.down.map((row) => (
        <div key={row.id} className="d-flex gap-2 align-items-center">
          <span className="flex-grow-1">
            {row.printer} is down since {moment(row.from_at)}: {row.reason}
          </span>
          <Button
            variant="outline-primary"
            size="sm"
            disabled={back.isPending}
            onClick={() => back.mutate(row.printer_id)}
          >
            It is back
          </Button>
        </div>
      ))}
      <Trouble error={back.error} />
      <Choice label="Printer" {...field("printer_id")} options={up.map((one) => [one.id, one.name] as const)} />
      <TextField label="Why" {...field("reason")} placeholder="The screen is dark" />
      <TextField label="Back by" type="datetime-local" {...field("until_at")} hint="empty: not known" />
    </FormDialog>
  );
}
