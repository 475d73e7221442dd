/** What the log is looked at by. */
export const LOG_TABS: [string, string][] = [
  ["/log", "Prints"],
  ["/log/evidence", "What prints tell"],
  ["/log/why", "Why did it fail?"],
];
