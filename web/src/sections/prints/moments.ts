/** Moments as a person types them into a field: local time, to the minute. */
export const asTypedMoment = (at: Date): string =>
  new Date(at.getTime() - at.getTimezoneOffset() * 60_000).toISOString().slice(0, 16);

/** The moment a person typed; null where the field is empty. */
export const momentOf = (text: string): string | null => (text ? new Date(text).toISOString() : null);
