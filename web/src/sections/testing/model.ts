import { type Schemas } from "../../shared/api/client";
import { useGet } from "../../shared/api/useGet";

export type Method = Schemas["MethodView"];
export type MethodField = Schemas["MethodField"];
export type TestView = Schemas["TestView"];
export type Group = Schemas["GroupView"];
export type Specimen = Schemas["SpecimenView"];
export type Brief = Schemas["BriefView"];
/** What is entered, by the method's fields. */
export type Row = Record<string, number | number[] | string | boolean | null>;

export const useMethods = () =>
  useGet("/api/test-methods", {}, { staleTime: Infinity, select: (answer) => answer.items });
export const useBriefs = () =>
  useGet(
    "/api/briefs",
    { params: { query: { retired: false, limit: 200, after: "" } } },
    { select: (answer) => answer.items },
  );
export const useTest = (code: string) => useGet("/api/tests/{id_or_code}", { params: { path: { id_or_code: code } } });

/** Only what was given: an empty field is not sent. */
export const given = (row: Row): Row =>
  Object.fromEntries(
    Object.entries(row).filter(
      ([, value]) => value !== null && value !== "" && !(Array.isArray(value) && !value.length),
    ),
  );

export const done = (field: MethodField, row: Row) =>
  field.optional ||
  (row[field.key] !== null &&
    row[field.key] !== undefined &&
    row[field.key] !== "" &&
    !(Array.isArray(row[field.key]) && !(row[field.key] as number[]).length));
