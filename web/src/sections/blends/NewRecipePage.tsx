import { keepPreviousData, useQuery } from "@tanstack/react-query";
import { useState } from "react";
import Button from "react-bootstrap/Button";
import Form from "react-bootstrap/Form";
import { useNavigate } from "react-router";
import { PageHead } from "../../app/PageHead";
import { useSay } from "../../app/toasts";
import { ApiError, body, POST, type Schemas } from "../../shared/api/client";
import { useSend } from "../../shared/api/useSend";
import { Choice } from "../../shared/fields/Choice";
import { NumberField } from "../../shared/fields/NumberField";
import { TextField } from "../../shared/fields/TextField";
import { DraftNote } from "../../shared/fields/DraftNote";
import { useEntry } from "../../shared/fields/useEntry";
import { Loaded } from "../../shared/Loading";
import { Trouble } from "../../shared/Trouble";
import { Findings } from "./Findings";
import { NewDye } from "./NewDye";
import { RecipeExpects } from "./RecipeExpects";
import { type Line, sharesOf, suggestedName } from "./shares";
import { useIngredients } from "./targets";
import "./blend.scss";

type Draft = {
  name: string;
  lines: Line[];
  by: "volume" | "mass";
  batch_ml: number | null;
  part_ml: number | null;
  forbidden_reason: string;
};

/** A recipe: its pours, price and expectations follow as it is typed; rules speak before anything is poured. */
export default function NewRecipePage() {
  const ingredients = useIngredients();
  return (
    <>
      <PageHead title="Write a recipe" />
      <Loaded query={ingredients}>{(held) => <Recipe ingredients={held} />}</Loaded>
    </>
  );
}

function Recipe({ ingredients }: { ingredients: Schemas["Ingredient"][] }) {
  const navigate = useNavigate();
  const say = useSay();
  const [dye, setDye] = useState(false);
  const entry = useEntry<Draft>(
    {
      name: "",
      lines: [
        { material_id: "", percent: null },
        { material_id: "", percent: null },
      ],
      by: "volume",
      batch_ml: 400,
      part_ml: null,
      forbidden_reason: "",
    },
    "recipe",
  );
  const { values: draft, set } = entry;
  const change = (index: number, changes: Partial<Line>) =>
    set({ lines: draft.lines.map((one, at) => (at === index ? { ...one, ...changes } : one)) });
  const { used, open, parts } = sharesOf(draft.lines);
  const request = { parts, by: draft.by, batch_ml: draft.batch_ml, part_ml: draft.part_ml };
  const quote = useQuery<Schemas["RecipeQuote"], ApiError>({
    queryKey: ["recipe-quote", request],
    queryFn: () => body(POST("/api/blends/quote", { body: request })),
    enabled: used.length > 1 && open < 2,
    placeholderData: keepPreviousData,
    retry: false,
  });
  const priced = quote.error ? undefined : quote.data;
  const forbidden = priced?.result.findings.some((one) => one.severity === "forbid") ?? false;
  const named = draft.name || suggestedName(parts, (id) => ingredients.find((one) => one.id === id)?.name ?? "");
  const send = useSend(
    (_: null, headers) =>
      body(
        POST("/api/blends", {
          body: {
            name: named,
            parts,
            by: draft.by,
            note: "",
            forbidden_reason: draft.forbidden_reason.trim() || null,
          },
          headers,
        }),
      ),
    (made) => {
      entry.forget();
      say(`${made.name} is a material now: calibrate it.`);
      void navigate(`/blend/recipes/${made.id}`);
    },
  );
  const { field, errors, elsewhere } = entry.checked(quote.error, send.error);
  return (
    <Form
      noValidate
      className="two-columns"
      onSubmit={(event) => {
        event.preventDefault();
        send.mutate(null);
      }}
    >
      <section className="panel" aria-label="Recipe">
        <DraftNote entry={entry} />
        <PartLines lines={draft.lines} ingredients={ingredients} errors={errors} onLine={change} />
        <Button
          variant="link"
          className="p-0 me-3"
          onClick={() => set({ lines: [...draft.lines, { material_id: "", percent: null }] })}
        >
          One more part
        </Button>
        <Button variant="link" className="p-0" onClick={() => setDye(true)}>
          A new dye…
        </Button>
        {errors.parts && <p className="trouble mt-2 mb-0">{errors.parts}</p>}
        <div className="three mt-3">
          <Choice
            label="Shares are by"
            {...field("by")}
            options={[
              ["volume", "volume"],
              ["mass", "mass"],
            ]}
          />
          <NumberField label="For a batch of" unit="ml" {...field("batch_ml")} />
          <NumberField label="A typical part takes" unit="ml" {...field("part_ml")} />
        </div>
        <TextField label="Name" {...field("name")} placeholder={named} className="mt-3" />
        {priced && (
          <div className="mt-3">
            <Findings findings={priced.result.findings} />
          </div>
        )}
        {forbidden && (
          <TextField label="Why it is mixed all the same" {...field("forbidden_reason")} className="mt-2" />
        )}
        <Trouble error={errors.parts ? null : elsewhere} className="mt-2" />
        <Button
          type="submit"
          size="lg"
          className="mt-3"
          disabled={
            !priced || quote.isPlaceholderData || send.isPending || (forbidden && !draft.forbidden_reason.trim())
          }
        >
          Save the recipe
        </Button>
        <p className="small text-secondary mt-2 mb-0">
          A recipe is never changed afterwards: every new fraction is a new material to calibrate.
        </p>
      </section>
      <RecipeExpects quote={priced} batch={draft.batch_ml} />
      {dye && (
        <NewDye
          onClose={() => setDye(false)}
          onMade={(id) => {
            setDye(false);
            const free = draft.lines.findIndex((one) => !one.material_id);
            if (free >= 0) change(free, { material_id: id });
            else set({ lines: [...draft.lines, { material_id: id, percent: null }] });
          }}
        />
      )}
    </Form>
  );
}

type PartLinesProps = {
  lines: Line[];
  ingredients: Schemas["Ingredient"][];
  errors: Record<string, string>;
  onLine: (index: number, changes: Partial<Line>) => void;
};

/** The parts with their shares; one line may stay open and takes the rest. */
function PartLines({ lines, ingredients, errors, onLine }: PartLinesProps) {
  const { used, open, rest } = sharesOf(lines);
  return (
    <>
      {lines.map((one, index) => (
        <div key={index} className="recipe-line" role="group" aria-label={`Part ${index + 1}`}>
          <Choice
            label={`Part ${index + 1}`}
            value={one.material_id}
            onChange={(material_id) => onLine(index, { material_id })}
            error={errors[`parts.${used.indexOf(one)}.material_id`] ?? errors[`parts.${used.indexOf(one)}.material`]}
            options={ingredients.map((held) => [held.id, held.kind === "dye" ? `${held.name} (dye)` : held.name])}
          />
          <NumberField
            label="Share"
            unit="%"
            value={one.percent}
            onChange={(percent) => onLine(index, { percent })}
            hint={
              one.material_id && one.percent === null && open === 1
                ? `the rest: ${rest.toFixed(2).replace(/\.?0+$/, "")}`
                : undefined
            }
            error={errors[`parts.${used.indexOf(one)}.density_g_ml`]}
          />
        </div>
      ))}
    </>
  );
}
