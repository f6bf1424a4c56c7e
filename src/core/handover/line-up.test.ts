import { formatPhrase, parsePhrase } from "../frames/phrase";
import { rangeSet } from "../frames/frame-set";
import type { FrameSet } from "../frames/frame-set";
import { deriveTally, NO_FACTS } from "../tally/tally";
import { lineUp, played, type SizesOfFrames, troubled, usualSize } from "./line-up";

const set = (phrase: string): FrameSet => {
  const read = parsePhrase(phrase);
  if (!read.ok) throw new Error(read.error.message);
  return read.set;
};

const HD = { width: 1920, height: 1080 };
const HALF = { width: 960, height: 540 };

/** 1 to 9: 3 missing, 5 flagged, 6 of half size, 8 stale, 9 not looked at. */
const tally = deriveTally({
  ...NO_FACTS,
  asked: set("1-9"),
  files: set("1-9,!3"),
  findingOpen: set("5"),
  otherLook: set("8"),
  unlooked: set("9"),
});
const sizes: SizesOfFrames = new Map(
  [1, 2, 4, 5, 6, 7, 8].map((frame) => [frame, frame === 6 ? HALF : HD] as const),
);

test("names each frame's trouble once, the worst first, and only of frames that were asked for", () => {
  const { troubles } = lineUp(set("2-9"), tally, sizes, "stop");
  expect(Object.fromEntries(Object.entries(troubles).map(([k, v]) => [k, formatPhrase(v)]))).toEqual({
    missing: "3",
    flagged: "5",
    otherSize: "6",
    stale: "8",
    unchecked: "9",
  });
  expect(formatPhrase(troubled(lineUp(set("1-2,4,7"), tally, sizes, "stop").troubles))).toBe("");
});

test("holds the nearest sound frame before, and shows a card where there is none", () => {
  const { slots } = lineUp(set("3-7"), tally, sizes, "hold");
  expect(slots.map((s) => (s.kind === "card" ? `card ${s.frame}` : `${s.frame}<${s.from}`))).toEqual([
    "card 3",
    "4<4",
    "5<4",
    "6<4",
    "7<7",
  ]);
});

test("shows a card with the number for each frame in trouble", () => {
  const { slots } = lineUp(set("4-5"), tally, sizes, "card");
  expect(slots).toEqual([
    { kind: "picture", frame: 4, from: 4 },
    { kind: "card", frame: 5 },
  ]);
});

test("files that the plan does not ask for can be handed over, and frames that nobody asked for are missing", () => {
  const extra = deriveTally({ ...NO_FACTS, asked: set("1-2"), files: set("1-3") });
  expect(formatPhrase(troubled(lineUp(set("1-5"), extra, new Map(), "stop").troubles))).toBe("4-5");
});

test("the usual size is the one that most have, of equals the first", () => {
  expect(usualSize(rangeSet(1, 9), sizes)).toEqual(HD);
  expect(
    usualSize(
      rangeSet(1, 2),
      new Map([
        [1, HALF],
        [2, HD],
      ]),
    ),
  ).toEqual(HALF);
  expect(usualSize(rangeSet(1, 2), new Map())).toBeNull();
});

test("the first and the last picture stay, what is between comes again and again", () => {
  expect(played(["a", "b"], { loops: 2, holdFirst: 2, holdLast: 1 }).join("")).toBe("aaababb");
  expect(played([], { loops: 3, holdFirst: 1, holdLast: 1 })).toEqual([]);
});
