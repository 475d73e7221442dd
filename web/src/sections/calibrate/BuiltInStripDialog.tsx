import { useSay } from "../../app/toasts";
import { body, POST } from "../../shared/api/client";
import { useGet } from "../../shared/api/useGet";
import { useSend } from "../../shared/api/useSend";
import { Choice } from "../../shared/fields/Choice";
import { FormDialog } from "../../shared/fields/FormDialog";
import { NumberField } from "../../shared/fields/NumberField";
import { useEntry } from "../../shared/fields/useEntry";
import type { Arm } from "./model";

type Props = { arm: Arm; onClose: () => void };

/** A strip of several exposures that the printer makes by itself: its columns become coupons that seed a range. */
export function BuiltInStripDialog({ arm, onClose }: Props) {
  const say = useSay();
  const own = useGet("/api/own-coupons", {}, { select: (answer) => answer.items });
  const entry = useEntry({
    base_s: null as number | null,
    columns: 6 as number | null,
    multiplier: 1.2 as number | null,
    step_s: null as number | null,
    own_coupon: "",
  });
  const { values, set } = entry;
  const cancel = useSend((id: string) =>
    body(POST("/api/prints/{print_id}/cancel", { params: { path: { print_id: id } } })),
  );
  const save = useSend(
    (_: null, headers) =>
      body(
        POST("/api/arms/{arm_id}/built-in-strip", {
          params: { path: { arm_id: arm.id } },
          body: {
            ...values,
            base_s: values.base_s ?? 0,
            columns: values.columns ?? 0,
            own_coupon: values.own_coupon || null,
          },
          headers,
        }),
      ),
    (made) => {
      say(`${made.coupons.length} columns are saved: mark the print as printed, then look at each.`, () =>
        made.print_ids.forEach((id) => cancel.mutate(id)),
      );
      onClose();
    },
  );
  const { field, elsewhere } = entry.checked(save.error);
  return (
    <FormDialog
      title="The printer’s own strip"
      action="Save its columns"
      saving={save.isPending}
      error={elsewhere}
      ready={values.base_s !== null}
      onSave={() => save.mutate(null)}
      onClose={onClose}
    >
      <p className="mb-0 text-secondary">
        Some printers expose several columns by themselves. They have no peel and no stacked layers: they only seed a
        range.
      </p>
      <div className="row g-3">
        <NumberField className="col-6" label="First column" unit="s" {...field("base_s")} autoFocus />
        <NumberField className="col-6" label="Columns" {...field("columns")} />
        <NumberField
          className="col-6"
          label="Ratio to the one before"
          unit="×"
          {...field("multiplier")}
          onChange={(multiplier) => set({ multiplier, ...(multiplier !== null && { step_s: null }) })}
        />
        <NumberField
          className="col-6"
          label="or longer by"
          unit="s"
          {...field("step_s")}
          onChange={(step_s) => set({ step_s, ...(step_s !== null && { multiplier: null }) })}
        />
      </div>
      {own.data && own.data.length > 0 && (
        <Choice
          label="Counted on each column"
          {...field("own_coupon")}
          options={own.data.map((one) => [one.code, one.name] as const)}
          none="nothing: by one look"
        />
      )}
    </FormDialog>
  );
}
