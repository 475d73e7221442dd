export const PRACTICE_TABS = [
  ["/practice", "Practice"],
  ["/practice/studies", "Gauge studies"],
] as const;

export const LEVELS: { level: 1 | 2 | 3; name: string; what: string }[] = [
  { level: 1, name: "Plain", what: "grey resin, plain light, plainly too little or too much" },
  { level: 2, name: "Everyday", what: "three resins, light from anywhere, dust, nearer to right" },
  { level: 3, name: "Hard", what: "clear resin too, aslant, shadows, close to right" },
];
export const levelName = (level: number): string => LEVELS.find((one) => one.level === level)?.name ?? "";

export const BIAS_WORDS: Record<"walls" | "slots" | "plug", { name: string; high: string; low: string }> = {
  walls: {
    name: "Thinnest wall",
    high: "walls that stand are missed",
    low: "walls that are gone are taken for standing",
  },
  slots: { name: "Narrowest slot", high: "open slots are missed", low: "closed slots are taken for open" },
  plug: { name: "Taper plug", high: "edges are read as grown too far", low: "edges are read as grown too little" },
};
