/** A list with something in it: its first one is there. */
export type Filled<T> = [T, ...T[]];

export const isFilled = <T>(list: T[]): list is Filled<T> => list.length > 0;
