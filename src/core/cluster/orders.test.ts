import { parsePhrase } from "../frames/phrase";
import { EMPTY, type FrameSet } from "../frames/frame-set";
import { readListing } from "./array-listing";
import { ordersFor, type SentArray, type SentRun, type WaitingFrame } from "./orders";

const frames = (phrase: string): FrameSet => {
  const read = parsePhrase(phrase);
  return read.ok ? read.set : EMPTY;
};
const RUN: SentRun = { state: "active", mayBegin: true, nice: 100, part: null };
const array = (...lines: readonly string[]): SentArray => ({
  ...{ id: 1, leadId: 7, kind: "frame", shift: 0, job: 12 },
  lines: readListing(lines.join("\n")),
});
const waiting = (...numbers: readonly number[]): WaitingFrame[] =>
  numbers.map((frame) => ({ leadId: 7, kind: "frame", frame }));
const NOTHING = { cancel: [], hold: [], release: [], setNice: [], hurry: [], submit: [] };

test("frames that wait and stand in no array are submitted, and no others", () => {
  const sent = array("12_[3-4]|tally-1|PENDING|Resources||100", "12_2|tally-1|RUNNING|None|lamp-1|100");
  expect(ordersFor(RUN, [sent], waiting(2, 3, 4))).toEqual(NOTHING);
  // A frame that came back from a task that is over, and one that was never there.
  const over = array("12_2|tally-1|COMPLETED|None|lamp-1|100");
  expect(ordersFor(RUN, [over], waiting(2, 9)).submit).toEqual([
    { leadId: 7, kind: "frame", frames: frames("2,9") },
  ]);
});

test("an index stands for its frame also where it is shifted, and another camera's array covers nothing of this one", () => {
  const shifted = { ...array("12_[1-3]|tally-1|PENDING|None||100"), shift: 100_000 };
  expect(ordersFor(RUN, [shifted], waiting(100_001, 100_003)).submit).toEqual([]);
  expect(ordersFor(RUN, [{ ...shifted, leadId: 8 }], waiting(100_001)).submit).toHaveLength(1);
});

test("of a part nothing else is submitted, but the light of all", () => {
  const light: WaitingFrame = { leadId: 7, kind: "light", frame: 1 };
  expect(ordersFor({ ...RUN, part: frames("5-6") }, [], [light, ...waiting(1, 5, 6, 7)]).submit).toEqual([
    { leadId: 7, kind: "light", frames: frames("1") },
    { leadId: 7, kind: "frame", frames: frames("5-6") },
  ]);
});

test("what the queue holds is held there, released with it, and set back as it is", () => {
  const waits = array("12_[3-4]|tally-1|PENDING|Resources||0");
  expect(ordersFor({ ...RUN, mayBegin: false }, [waits], waiting(9))).toEqual({
    ...NOTHING,
    hold: [12],
    setNice: [12],
  });
  const held = array("12_[3-4]|tally-1|PENDING|JobHeldUser||100");
  expect(ordersFor(RUN, [held], [])).toEqual({ ...NOTHING, release: [12] });
  expect(ordersFor({ ...RUN, mayBegin: false }, [held], [])).toEqual(NOTHING);
});

test("a run that stops begins nothing more, and what is in work is left to its heartbeat", () => {
  const both = array("12_[3-4]|tally-1|PENDING|Resources||100", "12_2|tally-1|RUNNING|None|lamp-1|100");
  for (const state of ["stopping", "halting", "stopped", "done"] as const)
    expect(ordersFor({ ...RUN, state }, [both], waiting(9))).toEqual({ ...NOTHING, cancel: [12] });
  expect(
    ordersFor({ ...RUN, state: "halting" }, [array("12_2|tally-1|RUNNING|None|lamp-1|100")], []),
  ).toEqual(NOTHING);
});

test("a task that was taken from its machine need not rest", () => {
  const rests = array("12_3|tally-1|PENDING|BeginTime||100");
  expect(ordersFor(RUN, [rests], []).hurry).toEqual(["12_3"]);
  expect(ordersFor({ ...RUN, mayBegin: false }, [rests], []).hurry).toEqual([]);
});
