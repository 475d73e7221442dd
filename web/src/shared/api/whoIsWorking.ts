/** A change that nobody is named for asks who is working, then goes on: the app says how. */
let ask: (() => Promise<string | null>) | null = null;

/** The app's way to ask; null when it is gone. */
export function askWith(way: (() => Promise<string | null>) | null): void {
  ask = way;
}

/** The initials somebody chose, or null when nobody did. */
export const whoIsWorking = (): Promise<string | null> => ask?.() ?? Promise.resolve(null);
