/** What a person enters in a form, kept by react-hook-form: its values, what was touched, and what the server found. */
import { useState } from "react";
import { useForm, type DefaultValues, type FieldValues, type Path, type PathValue } from "react-hook-form";
import type { ApiError } from "../api/client";
import { keptInTab, type Keeper } from "../useKept";

export type Entry<Values extends FieldValues> = ReturnType<typeof useEntry<Values>>;

/**
 * Values are named as the API names them, so that its messages find their fields. With `kept`, a name or a place of
 * their own, what a person chose survives a reload of the page until `forget` is called; `linked` is what a link
 * hands over, which wins over an earlier draft.
 */
export function useEntry<Values extends FieldValues>(
  first: Values | (() => Values),
  kept?: string | Keeper<Values>,
  linked?: Partial<Values>,
) {
  const keeper = typeof kept === "string" ? keptInTab<Values>(kept) : kept;
  const fresh = (): Values => ({ ...(typeof first === "function" ? first() : first), ...linked });
  const [draft, setDraft] = useState(() => {
    const values = keeper?.read();
    const own = Object.keys(values ?? {}).filter((name) => linked?.[name] === undefined);
    return own.length ? { at: keeper?.at() ?? null, names: new Set(own), values } : null;
  });
  const [begin] = useState<Values>(() => ({ ...fresh(), ...draft?.values, ...linked }));
  const form = useForm<Values>({ defaultValues: begin as DefaultValues<Values> });
  const names = Object.keys(begin) as Path<Values>[];
  for (const name of names) form.register(name);
  const values = form.watch();

  function put(changes: Partial<Values>, touched: boolean) {
    for (const name of names)
      if (name in changes)
        form.setValue(name, changes[name] as PathValue<Values, Path<Values>>, { shouldTouch: touched });
    const chosen = names.filter((name) => isTouched(name));
    keeper?.keep(Object.fromEntries(chosen.map((name) => [name, form.getValues(name)])) as Partial<Values>);
  }

  function isTouched(name: string): boolean {
    return form.getFieldState(name as Path<Values>).isTouched || (draft?.names.has(name) ?? false);
  }

  return {
    values,
    /** What a person chose or typed. */
    set: (changes: Partial<Values>) => put(changes, true),
    /** What the app proposes: it stands where nobody chose anything. */
    suggest(changes: Partial<Values>) {
      const free = Object.entries(changes).filter(([name]) => !isTouched(name));
      put(Object.fromEntries(free) as Partial<Values>, false);
    },
    isTouched: (name: keyof Values & string) => isTouched(name),
    /** An earlier draft that stands in the form: when it was kept, and how to begin anew. */
    draft: draft && {
      at: draft.at,
      discard() {
        keeper?.forget();
        setDraft(null);
        form.reset(fresh());
        for (const name of names) form.register(name);
      },
    },
    /** Hands fields back to what the app proposes. */
    release(...fields: (keyof Values & string)[]) {
      for (const name of fields) draft?.names.delete(name);
      for (const name of fields)
        form.resetField(name as Path<Values>, { defaultValue: form.getValues(name as Path<Values>) });
    },
    forget: () => keeper?.forget(),
    /** What the server found, each at its field; `elsewhere` is what belongs to none of them. */
    checked(...answers: (ApiError | null | undefined)[]) {
      const errors: Record<string, string> = Object.assign({}, ...answers.map((answer) => answer?.fields));
      const numbers: Record<string, number> = Object.assign({}, ...answers.map((answer) => answer?.suggest));
      const isOurs = (field: string) => (field.split(".")[0] ?? "") in begin;
      return {
        errors,
        elsewhere: answers.find((answer) => answer && !Object.keys(answer.fields).some(isOurs)) ?? null,
        field: <Name extends keyof Values & string>(name: Name) => ({
          value: values[name],
          onChange: (value: Values[Name]) => put({ [name]: value } as unknown as Partial<Values>, true),
          error: errors[name],
          ...(name in numbers && { suggest: numbers[name] }),
        }),
      };
    },
  };
}
