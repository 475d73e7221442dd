import { useState } from "react";
import { useSay } from "../../app/toasts";
import { body, PUT, type Schemas } from "../../shared/api/client";
import { useGet } from "../../shared/api/useGet";
import { useSend } from "../../shared/api/useSend";
import { FormDialog } from "../../shared/fields/FormDialog";
import { NumberField } from "../../shared/fields/NumberField";
import { useOpened } from "../../shared/fields/useOpened";

type Rules = Schemas["BaseRules"];
type Rule = { multiple?: number | null; seconds?: number | null };
type Props = { printer: { id: string; name: string } | undefined; onClose: () => void; onChanged: () => void };

/** How this lab reckons a first base exposure: a multiple or seconds, for all printers and for this one. */
export function BaseRuleDialog(props: Props) {
  const rules = useGet("/api/base-rules");
  return rules.data ? <BaseRuleForm stored={rules.data} {...props} /> : null;
}

function BaseRuleForm({ stored, printer, onClose, onChanged }: Props & { stored: Rules }) {
  const say = useSay();
  const opened = useOpened(stored);
  const [lab, setLab] = useState<Rule>({ multiple: opened.multiple, seconds: opened.seconds });
  const [own, setOwn] = useState<Rule>((printer && opened.printers[printer.id]) ?? {});
  const save = useSend(
    (_: null) => {
      const printers = printer ? { ...opened.printers, [printer.id]: own } : opened.printers;
      return body(PUT("/api/base-rules", { body: { ...lab, printers, version: opened.version } as Rules }));
    },
    () => {
      say("New calibrations begin with this base exposure.");
      onChanged();
      onClose();
    },
  );
  const errors = save.error?.fields ?? {};
  const fields = (rule: Rule, set: (rule: Rule) => void, at: string) => (
    <div className="row g-3">
      {(["multiple", "seconds"] as const).map((name) => (
        <NumberField
          key={name}
          className="col-6"
          label={name === "multiple" ? "Ratio to the exposure" : "or always"}
          unit={name === "multiple" ? "×" : "s"}
          value={rule[name] ?? null}
          onChange={(value) => set({ ...rule, [name]: value })}
          error={errors[`${at}${name}`]}
        />
      ))}
    </div>
  );
  return (
    <FormDialog
      title="Our rule for base exposures"
      action="Save"
      saving={save.isPending}
      error={save.error}
      onSave={() => save.mutate(null)}
      onClose={onClose}
    >
      <p className="mb-0 text-secondary">
        It seeds the first try where nothing has gripped yet; the rating of the first layer decides. Empty: as in the
        settings that are taken over.
      </p>
      <fieldset>
        <legend className="fs-6 fw-bold">In this lab</legend>
        {fields(lab, setLab, "")}
      </fieldset>
      {printer && (
        <fieldset>
          <legend className="fs-6 fw-bold">On {printer.name}, where it differs</legend>
          {fields(own, setOwn, `printers.${printer.id}.`)}
        </fieldset>
      )}
    </FormDialog>
  );
}
