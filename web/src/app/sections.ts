/** The sections of the app in the order of work. A section is entered here and nowhere else; `also` are pages of its things that have a short address. */
export type Section = { path: string; name: string; key: string; asks: string; also?: string[] };

export const SECTIONS: Section[] = [
  { path: "/board", name: "Board", key: "b", asks: "What can I print with, and what needs me today?" },
  {
    path: "/shelf",
    name: "Shelf",
    key: "s",
    asks: "What do I have, and in what state?",
    also: ["/printers", "/materials", "/bottles"],
  },
  { path: "/blend", name: "Blend", key: "m", asks: "What do I pour?" },
  {
    path: "/calibrate",
    name: "Calibrate",
    key: "c",
    asks: "Where is the window?",
    also: ["/coupons", "/blind", "/sets"],
  },
  { path: "/test", name: "Test", key: "t", asks: "Is it strong and fine enough?" },
  { path: "/climate", name: "Climate", key: "k", asks: "Is it warm enough, and what does cold do?" },
  { path: "/qualify", name: "Qualify", key: "q", asks: "May we rely on it?" },
  { path: "/log", name: "Log", key: "l", asks: "What happened, and why did it fail?" },
  { path: "/plan", name: "Plan", key: "p", asks: "What do I do when, and will it be enough?" },
  { path: "/practice", name: "Practice", key: "r", asks: "Do I read coupons right?" },
];

export const sectionOf = (pathname: string): Section | undefined =>
  SECTIONS.find((one) =>
    [one.path, ...(one.also ?? [])].some((path) => pathname === path || pathname.startsWith(`${path}/`)),
  );
