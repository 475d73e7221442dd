/** What a person enters in a form, kept by react-hook-form: its values, what was touched, and what the server found. */
import { useState } from "react";
import { useForm, type DefaultValues, type FieldValues, type Path, type PathValue } from "react-hook-form";
import type { ApiError } from "../api/client";
import { keptInTab, type Keeper } from "../useKept";

export type Entry<Values extends FieldValues> = ReturnType<typeof useEntry<Values>>;

/**
 * Values are named as the API names them, so that its messages find their fields. With `kept`, a name or a place of
 * their own, they survive a reload of the page until `forget` is called.
 */
export function useEntry<Values extends FieldValues>(first: Values | (() => Values), kept?: string | Keeper<Values>) {
  const keeper = typeof kept === "string" ? keptInTab<Values>(kept) : kept;
  const [begin] = useState<Values>(() => ({
    ...(typeof first === "function" ? first() : first),
    ...keeper?.read(),
  }));
  const form = useForm<Values>({ defaultValues: begin as DefaultValues<Values> });
  const names = Object.keys(begin) as Path<Values>[];
  for (const name of names) form.register(name);
  const values = form.watch();

  function put(changes: Partial<Values>, touched: boolean) {
    for (const name of names)
      if (name in changes)
        form.setValue(name, changes[name] as PathValue<Values, Path<Values>>, { shouldTouch: touched });
    keeper?.keep(form.getValues());
  }

  return {
    values,
    /** What a person chose or typed. */
    set: (changes: Partial<Values>) => put(changes, true),
    /** What the app proposes: it stands where nobody chose anything. */
    suggest(changes: Partial<Values>) {
      const free = Object.entries(changes).filter(([name]) => !form.getFieldState(name as Path<Values>).isTouched);
      put(Object.fromEntries(free) as Partial<Values>, false);
    },
    isTouched: (name: keyof Values & string) => form.getFieldState(name as Path<Values>).isTouched,
    /** Hands fields back to what the app proposes. */
    release(...fields: (keyof Values & string)[]) {
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
