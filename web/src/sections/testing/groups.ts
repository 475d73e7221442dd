/** The groups of a test that is being planned. */
export type GroupDraft = {
  material_id: string;
  set_code: string;
  exposure_s: number | null;
  cure_min: number | null;
  condition: string;
  orientation: string;
  supports: string;
  is_reference: boolean;
};

export const NOTHING: GroupDraft = {
  material_id: "",
  set_code: "",
  exposure_s: null,
  cure_min: null,
  condition: "",
  orientation: "",
  supports: "",
  is_reference: false,
};

/** What would be unfair if it differed from group to group. */
const ALIKE = ["condition", "orientation", "supports"] as const;

/** One group changed. There is one reference; what was alike in all groups stays alike when the first one changes. */
export function changed(groups: GroupDraft[], index: number, changes: Partial<GroupDraft>): GroupDraft[] {
  const before = groups[index] ?? NOTHING;
  return groups.map((one, at) => {
    if (at === index) return { ...one, ...changes };
    const follows =
      index === 0
        ? Object.fromEntries(
            ALIKE.filter((key) => changes[key] !== undefined && one[key] === before[key]).map((key) => [
              key,
              changes[key],
            ]),
          )
        : {};
    return { ...one, ...follows, ...(changes.is_reference ? { is_reference: false } : {}) };
  });
}

/** One group less; the first takes over when the reference goes. */
export function without(groups: GroupDraft[], index: number): GroupDraft[] {
  const left = groups.filter((_, at) => at !== index);
  return left.some((one) => one.is_reference) ? left : left.map((one, at) => ({ ...one, is_reference: at === 0 }));
}

/** One group more, prepared like the last one. */
export const oneMore = (groups: GroupDraft[]): GroupDraft[] => [
  ...groups,
  { ...NOTHING, ...groups.at(-1), material_id: "", set_code: "", is_reference: false },
];
