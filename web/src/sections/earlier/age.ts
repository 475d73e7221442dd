/** How long something has been in use, in the unit people would say. */
export function age(days: number | null): string {
  if (days === null) return "since when is not known";
  if (days < 60) return days === 1 ? "1 day" : `${days} days`;
  if (days < 730) return `${Math.round(days / 30.4)} months`;
  return `${Math.round(days / 365.25)} years`;
}

/** The same where there is hardly room. */
export const shortAge = (days: number): string =>
  days < 60 ? `${days} d` : days < 730 ? `${Math.round(days / 30.4)} mo` : `${Math.round(days / 365.25)} y`;
