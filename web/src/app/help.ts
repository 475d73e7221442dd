/** What each page answers, how one goes about it, and the words it uses. A page's help is entered here and nowhere else. */
import type { WordKey } from "../shared/glossary";

export type PageHelp = { at: RegExp; answers: string; task: string[]; words: WordKey[]; marks?: string[] };

const STATES = ["issued", "due", "lapsed", "calibrating", "in use", "predicted"];
const VERDICTS = ["under", "ok", "over", "mixed"];

const HELP: PageHelp[] = [
  {
    at: /^\/board/,
    answers: "What can I print with, and what needs me today?",
    task: [
      "Find your material and printer: the cell shows the exposure to type and whether it still holds.",
      "Enter opens it; c starts a calibration of the pair that is marked.",
      "Today lists what waits. An entry can be put off with a reason.",
    ],
    words: ["exposure", "set", "due", "band"],
    marks: STATES,
  },
  {
    at: /^\/at/,
    answers: "What is in my hand, and what waits here?",
    task: [
      "Point the phone's camera at a label, or type the code: its page opens.",
      "Coupons to read, prints that run and the cards are kept in a paired phone, and open without a connection.",
    ],
    words: ["coupon", "set"],
  },
  {
    at: /^\/lab\/instruments/,
    answers: "What do the instruments of the bench show, and whose button fills a field here?",
    task: [
      "Add an instrument by its address or its serial line, and switch it on.",
      "Choose in each browser whose button fills the field you stand in: a caliper's millimetres, a scale's grams.",
      "A reading stands in the field as if typed: it counts once you save.",
    ],
    words: [],
  },
  {
    at: /^\/waiting/,
    answers: "What was entered here and is not on the server yet?",
    task: [
      "What waits is sent by itself as soon as the server answers, in the order in which it was entered.",
      "What was refused stands beside what stands now: save yours over it, or discard it.",
      "What somebody entered who has no access any more, a lead accepts at this device.",
    ],
    words: [],
  },
  {
    at: /^\/shelf\/in-use/,
    answers: "What do we print with that nothing here shows yet?",
    task: [
      "Enter settings, take them from a table, or borrow a set of another workshop.",
      "Print with them and say how it came out: a hollow window grows. Calibrate when it matters.",
      "They are never a set: no card and no certificate is made of them.",
    ],
    words: ["set", "exposure", "window"],
    marks: ["in use", "superseded"],
  },
  {
    at: /^\/shelf\/coupons\/own/,
    answers: "What do we already print and read?",
    task: [
      "Describe a coupon once: series that light loses, lengths, a piece that should go and one that should not.",
      "Plan it in a calibration under Plan other coupons; its readings enter the same lanes.",
    ],
    words: ["coupon", "lane"],
  },
  {
    at: /^\/calibrate\/new/,
    answers: "What do I calibrate, and what must hold?",
    task: [
      "Choose material, printer and layer height.",
      "Say what the parts are for: the limits follow from it, and each can be changed.",
      "The first coupons are proposed on the next page.",
    ],
    words: ["coupon", "window", "tip"],
  },
  {
    at: /^\/calibrate\/.+/,
    answers: "Where is the window, and which coupon is worth printing next?",
    task: [
      "Print the coupons that are proposed, wash, dry and cure them, then read them.",
      "Each reading moves the lanes. What now says what another coupon would settle.",
      "Decide on an exposure, confirm it on a part, and issue the set.",
    ],
    words: ["window", "lane", "range", "arm", "nominal", "latitude", "interval"],
    marks: VERDICTS,
  },
  {
    at: /^\/calibrate/,
    answers: "Which calibrations are open?",
    task: ["Open one to go on with it, or start another with n."],
    words: ["coupon", "window", "set"],
  },
  {
    at: /^\/coupons\//,
    answers: "What does this coupon show?",
    task: [
      "Mark on the drawing the thinnest wall that stands, the narrowest slot that is open, the tips that held.",
      "Or read it from a picture: what is sure is filled in over it, what is not is asked with one tap.",
      "Strike out what was broken by hand. Enter goes to the next field; what is not read stays empty.",
      "The strip moves while you enter: nothing is kept before you save.",
    ],
    words: ["coupon", "under", "over", "growth", "tip"],
    marks: VERDICTS,
  },
  {
    at: /^\/sets\//,
    answers: "What do I type into the slicing program, and does it still hold?",
    task: [
      "Print the card, or copy the settings in their order.",
      "A set that is due wants a check coupon; one that lapsed wants a check or a new calibration.",
    ],
    words: ["set", "check", "due", "band", "base", "rest", "lift"],
    marks: STATES,
  },
  {
    at: /^\/(shelf|bottles|printers|materials)/,
    answers: "What do I have, and in what state?",
    task: [
      "A name leads to the thing's page; Edit changes what was entered.",
      "Note when a screen, film or bottle changes: the sets it touches fall due by themselves.",
    ],
    words: ["due", "check", "depth"],
    marks: STATES,
  },
  {
    at: /^\/blend/,
    answers: "What do I pour, and what is in each vat?",
    task: [
      "Write a recipe, pour it in the order shown, and note every pour into a vat.",
      "A topped-up vat is another material: its sets lapse.",
    ],
    words: ["exposure", "interval"],
  },
  {
    at: /^\/test/,
    answers: "Is it strong and fine enough?",
    task: [
      "Plan a test for a brief: it says how many specimens and prints are worth it.",
      "Break them in the random order shown, one entry at a time.",
      "A requirement is met when its bound meets it, not the mean.",
    ],
    words: ["brief", "bound", "interval"],
  },
  {
    at: /^\/climate/,
    answers: "Is it warm enough, and what does cold do?",
    task: ["Log temperatures, plan a warm start before a cold print, and see what exposure and success owe to warmth."],
    words: ["band", "rest", "interval"],
  },
  {
    at: /^\/qualify/,
    answers: "May we rely on it?",
    task: [
      "Choose a brief, look at each requirement beside its evidence, and sign what is shown.",
      "What is missing stands with the cheapest way to get it.",
    ],
    words: ["brief", "bound", "set", "due"],
    marks: ["qualified", "conditional"],
  },
  {
    at: /^\/log/,
    answers: "What happened, and why did it fail?",
    task: [
      "Note every print with its temperature and what came out.",
      "After missing parts the printer waits until its vat is searched.",
    ],
    words: ["band", "tip", "base"],
  },
  {
    at: /^\/plan/,
    answers: "What do I do when, and will it be enough?",
    task: [
      "Plan the day: what open work needs next is put in order over printers, baths, lamps and your hours.",
      "Now says what comes first. Begun starts its timer; Done records it. The rest is planned anew by itself.",
      "Drag a step, or move it with the arrow keys, to pin its time. Needed by comes before everything else.",
    ],
    words: ["coupon", "set", "due", "band"],
  },
  {
    at: /^\/practice\/studies/,
    answers: "How far can our reading be trusted?",
    task: [
      "Plan a study: people, and the picture reader, read the same coupons again and again, each in an order drawn by lot.",
      "Read turn by turn; nothing of what was read before is shown.",
      "The result makes the ends of the size lane less sure. A bias that is shown is taken off only when you ask for it.",
    ],
    words: ["coupon", "lane", "interval"],
  },
  {
    at: /^\/practice/,
    answers: "Do I read coupons right?",
    task: [
      "Choose a level. Mark the hidden coupon, call it under, right or over, and choose the next exposure.",
      "The truth lies over your marks at once; what you read otherwise is ringed.",
    ],
    words: ["coupon", "exposure", "nominal"],
    marks: VERDICTS.slice(0, 3),
  },
  {
    at: /^\/lab\/people/,
    answers: "Who works here, and what may each of them do?",
    task: [
      "A lead adds somebody with a password for the first time; they choose their own.",
      "At a bench that several share, each chooses a PIN, and changes places at the top right.",
      "A lost device is revoked here: whoever is signed in at it is out at once.",
    ],
    words: [],
  },
  {
    at: /^\/lab/,
    answers: "How is this lab set up, and what was done in it?",
    task: ["Settings hold for everybody. What changed lists work by day and person."],
    words: ["band", "due"],
  },
];

export const helpAt = (pathname: string): PageHelp | undefined => HELP.find((one) => one.at.test(pathname));
