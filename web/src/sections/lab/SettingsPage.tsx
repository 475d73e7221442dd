import { useQueryClient } from "@tanstack/react-query";
import { useState } from "react";
import Button from "react-bootstrap/Button";
import Form from "react-bootstrap/Form";
import { PageHead } from "../../app/PageHead";
import { useSay } from "../../app/toasts";
import { body, PUT, type Schemas } from "../../shared/api/client";
import { useGet } from "../../shared/api/useGet";
import { useSend } from "../../shared/api/useSend";
import { Choice } from "../../shared/fields/Choice";
import { DraftNote } from "../../shared/fields/DraftNote";
import { NumberField } from "../../shared/fields/NumberField";
import { TextField } from "../../shared/fields/TextField";
import { useEntry } from "../../shared/fields/useEntry";
import { followLab } from "../../shared/labForm";
import { Limits } from "../../shared/known/Limits";
import { Loaded } from "../../shared/Loading";
import { Trouble } from "../../shared/Trouble";
import { CutOffsDialog } from "../../shared/CutOffsDialog";
import { AddressCheck } from "./AddressCheck";
import { LabTabs } from "./LabTabs";
import "./lab.scss";

type Settings = Schemas["LabSettingsView"];
/** Numbers may stand empty while they are typed; the server says which one is missing. */
type Values = Omit<Settings, "version" | "band_c" | "low_stock_ml"> & {
  band_c: number | null;
  low_stock_ml: number | null;
};

const DATE_FORMS = ["29 Nov 2026", "Nov 29, 2026", "2026-11-29"] as const;

/** What the whole lab has set for itself, on one page. */
export default function SettingsPage() {
  const query = useGet("/api/lab-settings");
  return (
    <>
      <PageHead title="This lab" sub="settings that hold for everybody who works here" />
      <LabTabs />
      <Loaded query={query}>{(settings) => <Opened settings={settings} />}</Loaded>
      <section className="panel lab-settings mt-4" aria-label="Limits">
        <h2>Limits for due and lapsed</h2>
        <p className="text-secondary">Each is saved by itself, and may be set back to what ships.</p>
        <Limits />
      </section>
    </>
  );
}

/** The form stays on what it was opened with, and what is typed in it, whatever somebody else saves; its own save opens it anew. */
function Opened({ settings }: { settings: Settings }) {
  const [opened, setOpened] = useState(settings);
  return <SettingsForm key={opened.version} settings={opened} onSaved={setOpened} />;
}

function SettingsForm({ settings, onSaved }: { settings: Settings; onSaved: (kept: Settings) => void }) {
  const say = useSay();
  const [deciding, setDeciding] = useState(false);
  const place = useGet("/api/lab-settings/place");
  const sheets = useGet("/api/label-sheets", {}, { select: (answer) => answer.items });
  const entry = useEntry<Values>(() => {
    const { version: _, ...rest } = settings;
    return rest;
  }, `lab-settings-${settings.version}`);
  const answers = useQueryClient();
  /** Every page is written anew: its words come from the server in the lab's form. */
  const follow = (kept: Settings) => {
    followLab(kept);
    onSaved(kept);
    void answers.invalidateQueries();
  };
  const undo = useSend((at: number) => body(PUT("/api/lab-settings", { body: { ...settings, version: at } })), follow);
  const save = useSend(
    (_: null) => body(PUT("/api/lab-settings", { body: { ...(entry.values as Settings), version: settings.version } })),
    (kept) => {
      entry.forget();
      follow(kept);
      say("The lab's settings are saved.", () => undo.mutate(kept.version));
    },
  );
  const { field, elsewhere } = entry.checked(save.error);
  return (
    <form
      className="d-grid gap-3 lab-settings"
      onSubmit={(event) => {
        event.preventDefault();
        save.mutate(null);
      }}
    >
      <DraftNote entry={entry} />
      <section className="panel" aria-label="Name and form">
        <h2>Name and form</h2>
        <div className="row g-3">
          <TextField
            className="col-md-5"
            label="Name of the lab"
            {...field("name")}
            hint="Stands on cards and certificates"
            maxLength={80}
          />
          <TextField
            className="col-md-2"
            label="Currency"
            {...field("currency")}
            hint="Sign before prices, such as €"
            maxLength={6}
          />
          <div className="col-md-3">
            <Choice label="Days are written" {...field("date_form")} options={DATE_FORMS.map((one) => [one, one])} />
          </div>
          <div className="col-md-2">
            <Choice
              label="Decimals"
              {...field("decimal_mark")}
              options={[
                [".", "2.5"],
                [",", "2,5"],
              ]}
            />
          </div>
          <div className="col-md-3">
            <Choice
              label="Temperatures in"
              {...field("temperature_unit")}
              options={[
                ["°C", "°C"],
                ["°F", "°F"],
              ]}
            />
          </div>
          <div className="col-md-3">
            <Choice
              label="Sizes in"
              {...field("length_unit")}
              options={[
                ["mm", "millimetres"],
                ["in", "inches"],
              ]}
            />
          </div>
          <div className="col-md-3">
            <Choice
              label="Strength in"
              {...field("stress_unit")}
              options={[
                ["MPa", "MPa"],
                ["psi", "psi"],
              ]}
            />
          </div>
          <Form.Text className="mt-1">
            Fields take the other units too, such as 73 °F or 0.5 in. Layers, and what is typed into a slicing program,
            stay in µm and mm; files keep °C, mm and MPa.
          </Form.Text>
        </div>
      </section>
      <section className="panel" aria-label="Paper">
        <h2>Labels and cards</h2>
        <div className="row g-3">
          <div className="col-md-5">
            <Choice
              label="Sheet of labels in the printer"
              {...field("label_sheet")}
              options={(sheets.data ?? []).map((one) => [one.name as Settings["label_sheet"], one.words])}
            />
          </div>
          <TextField
            className="col-md-7"
            label="Address that QR codes lead to"
            {...field("base_address")}
            placeholder={place.data?.address}
            hint={place.data && addressWords(place.data)}
            maxLength={200}
          />
        </div>
        {place.data && <AddressCheck place={place.data} onTake={field("base_address").onChange} />}
      </section>
      <section className="panel" aria-label="Copies">
        <h2>Copies</h2>
        <TextField
          label="Second folder for the daily copy"
          {...field("backup_folder")}
          placeholder="Best on another disk"
          hint={
            place.data && `The usual copies lie in ${place.data.copies_folder}. A disk that breaks takes both with it.`
          }
          maxLength={400}
        />
      </section>
      <section className="panel" aria-label="Judgement">
        <h2>When a set is right, and for how long</h2>
        <div className="row g-3 mb-2">
          <NumberField
            className="col-md-4"
            label="Band where no temperature effect is shown"
            unit="°C apart"
            {...field("band_c")}
            hint="To either side of the coupons"
          />
          <NumberField
            className="col-md-4"
            label="Resin runs low below"
            unit="ml"
            {...field("low_stock_ml")}
            hint="In all its bottles; 0: never said"
          />
          <div className="col-md-4 align-self-center">
            <Button variant="quiet" onClick={() => setDeciding(true)}>
              How sure an offer must be…
            </Button>
          </div>
        </div>
      </section>
      {elsewhere && <Trouble error={elsewhere} />}
      <div>
        <Button type="submit" disabled={save.isPending}>
          Save
        </Button>
      </div>
      <Form.Text>What is issued or signed keeps the words it was given.</Form.Text>
      {deciding && <CutOffsDialog onClose={() => setDeciding(false)} />}
    </form>
  );
}

/** Whether another device could follow a printed code, and what sets it. */
function addressWords({ address, address_from, reaches_others }: Schemas["LabPlace"]): string {
  const reach = reaches_others
    ? `Codes lead to ${address}.`
    : `Codes lead to ${address}: only this machine can follow them, no phone.`;
  return address_from === "environment" ? `${reach} The server's own setting wins over this field.` : reach;
}
