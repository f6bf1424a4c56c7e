import { judgedOnes, type OddVerdict } from "./judged";
import type { Odd } from "./odd";

const pop: Odd = { frame: 7, code: "pop", value: 0.2, expected: 0.01, region: null, sentence: "It pops." };
const verdict = (change: Partial<OddVerdict>): OddVerdict => ({
  frame: 7,
  code: "pop",
  content: "new",
  state: "dismissed",
  who: "Mara",
  why: "lightning",
  ...change,
});
const FILES = new Map([[7, "new"]]);
const judged = (...verdicts: OddVerdict[]) => judgedOnes([pop], FILES, verdicts)[0]!;

test("what nobody has judged is open", () => {
  expect(judged()).toEqual({ ...pop, state: "open", who: null, why: null, isAgain: false });
});

test("what is said of this file counts, with its reason; the later of two", () => {
  expect(judged(verdict({}))).toMatchObject({ state: "dismissed", who: "Mara", why: "lightning" });
  expect(judged(verdict({}), verdict({ state: "open" }))).toMatchObject({ state: "accepted", why: null });
});

test("a new file brings it back, and says where it was made anew for the same reason", () => {
  expect(judged(verdict({ content: "old" }))).toMatchObject({ state: "open", isAgain: false });
  expect(judged(verdict({ content: "old", state: "fixed" }))).toMatchObject({ state: "open", isAgain: true });
});

test("what was said of another kind or frame, or of no known file, does not count", () => {
  for (const other of [{ code: "frozen" }, { frame: 8 }, { content: null }])
    expect(judged(verdict(other)).state).toBe("open");
});
