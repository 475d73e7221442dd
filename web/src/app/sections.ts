/** The sections of the app in the order of work. A section is entered here and nowhere else. */
export type Section = { path: string; name: string; key: string; asks: string };

export const SECTIONS: Section[] = [
  { path: "/board", name: "Board", key: "b", asks: "What can I print with, and what needs me today?" },
  { path: "/shelf", name: "Shelf", key: "s", asks: "What do I have, and in what state?" },
  { path: "/calibrate", name: "Calibrate", key: "c", asks: "Where is the window?" },
];
