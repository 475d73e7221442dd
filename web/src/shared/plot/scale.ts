/** What d3 types as lists of any length, as what they are on an axis. */

type Ends = [number, number];

/** The values at the two ends of an axis. */
export const domainOf = (scale: { domain(): number[] }) => scale.domain() as Ends;

/** The pixels at the two ends of an axis. */
export const rangeOf = (scale: { range(): number[] }) => scale.range() as Ends;

/** Columns of equal length as rows; what is missing in a shorter one ends the list. */
export function zip<Columns extends number[][]>(first: number[], ...others: Columns) {
  const length = Math.min(first.length, ...others.map((one) => one.length));
  return first.slice(0, length).map((value, index) => [value, ...others.map((one) => one[index])]) as [
    number,
    ...{ [Column in keyof Columns]: number },
  ][];
}
