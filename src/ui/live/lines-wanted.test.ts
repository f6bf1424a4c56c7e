import type { ShotLine, ShotsView } from "@/contract/shot-view";
import { readLines, wantAllLines, wantLines } from "./lines-wanted";

/** A ledger in which each line says when it was read. */
const ledger = (reading: string, ...codes: string[]): ShotsView => ({
  project: { title: "Test Film", slug: "test-film", rate: { numerator: 24, denominator: 1 } },
  archived: [],
  rest: [],
  edit: null,
  shots: codes.map((code) => ({ code, title: reading }) as ShotLine),
});
const told = (view: ShotsView): string[] => view.shots.map((line) => `${line.code} ${line.title}`);
const KNOWN = ledger("before", "A", "B", "C");

/** Answers as the server would, and keeps what it was asked. */
function server(...there: string[]) {
  const questions: (readonly string[] | null)[] = [];
  return {
    questions,
    read: async (only: readonly string[] | null): Promise<ShotsView> => {
      questions.push(only);
      return ledger("now", ...there.filter((code) => only === null || only.includes(code)));
    },
  };
}

test("only the lines that changed are asked for; the others stay as they are, in their order", async () => {
  const { questions, read } = server("A", "B", "C");
  wantLines("p1", ["C"]);
  wantLines("p1", ["B", "C"]);
  expect(told(await readLines("p1", KNOWN, read))).toEqual(["A before", "B now", "C now"]);
  expect(questions).toEqual([["C", "B"]]);
});

test("a shot that is gone loses its line", async () => {
  wantLines("p2", ["B"]);
  expect(told(await readLines("p2", KNOWN, server("A", "C").read))).toEqual(["A before", "C before"]);
});

test("a ledger that was never read, or of which nothing is known, is read as a whole", async () => {
  const { questions, read } = server("A");
  wantLines("p3", ["A"]);
  await readLines("p3", undefined, read);
  await readLines("p3", KNOWN, read);
  wantLines("p3", ["A"]);
  wantAllLines("p3");
  wantLines("p3", ["B"]);
  await readLines("p3", KNOWN, read);
  expect(questions).toEqual([null, null, null]);
});

test("a question that failed leaves everything wanted", async () => {
  const { questions, read } = server("A", "B", "C");
  wantLines("p4", ["B"]);
  await expect(
    readLines("p4", KNOWN, async () => {
      throw new Error("away");
    }),
  ).rejects.toThrow("away");
  await readLines("p4", KNOWN, read);
  expect(questions).toEqual([null]);
});

test("what changes while an answer is on its way is asked for the next time", async () => {
  const { questions, read } = server("A", "B", "C");
  wantLines("p5", ["A"]);
  const first = readLines("p5", KNOWN, read);
  wantLines("p5", ["B"]);
  await readLines("p5", await first, read);
  expect(questions).toEqual([["A"], ["B"]]);
});

test("a large ledger comes in parts, the lines that are known staying in their places; what changes meanwhile goes before", async () => {
  const codes = Array.from({ length: 60 }, (_, i) => `S${String(i + 10)}`);
  const { questions, read: only } = server(...codes);
  const read = async (asked: readonly string[] | null): Promise<ShotsView> => {
    if (asked !== null) return only(asked);
    questions.push(null);
    return { ...ledger("first", ...codes.slice(0, 4)), rest: codes.slice(4) };
  };
  let known = await readLines("p6", undefined, read);
  expect([known.shots.length, known.rest.length]).toEqual([4, 56]);
  wantLines("p6", ["S11"]);
  known = await readLines("p6", known, read);
  expect(questions.at(-1)).toEqual(["S11"]);
  while (known.rest.length > 0) known = await readLines("p6", known, read);
  expect(questions.slice(2).map((q) => q?.length)).toEqual([25, 25, 6]);
  expect(known.shots.map((line) => line.code).sort()).toEqual(codes);
  // Read anew, what is still to come is shown as it was.
  wantAllLines("p6");
  known = await readLines("p6", known, read);
  expect([known.shots.length, known.rest.length]).toEqual([60, 56]);
});
