import type { LogLine } from "./attempt-lines";
import { AttemptLines } from "./attempt-lines";

/** What a file would hold, and the lines that it was given at once. */
function file() {
  const written: LogLine[] = [];
  return { written, write: (lines: readonly LogLine[]) => Promise.resolve(void written.push(...lines)) };
}
const texts = (lines: readonly LogLine[]): readonly string[] => lines.map((line) => line.text);
const say = (said: AttemptLines, count: number): void => {
  for (let i = 1; i <= count; i++) said.say("info", `line ${i}`);
};

test("few lines are kept as they were said, and go to the file when it is over", async () => {
  const { written, write } = file();
  const said = new AttemptLines(write);
  say(said, 250);
  expect(texts(said.kept)).toHaveLength(250);
  expect(written).toEqual([]);
  expect(texts(await said.unsaid())).toEqual(texts(said.kept));
});

test("of very many the first and the last are kept, those between are counted; the file has each once, in order", async () => {
  const { written, write } = file();
  const said = new AttemptLines(write);
  say(said, 10_000);
  const kept = texts(said.kept);
  expect(kept).toHaveLength(301);
  expect([kept[0], kept[199], kept[201], kept.at(-1)]).toEqual([
    "line 1",
    "line 200",
    "line 9901",
    "line 10000",
  ]);
  expect(kept[200]).toContain("9,700 lines more");
  const rest = await said.unsaid();
  expect([...texts(written), ...texts(rest)]).toEqual(
    Array.from({ length: 10_000 }, (_, i) => `line ${i + 1}`),
  );
});

test("a file that cannot be written costs nothing but its lines", async () => {
  const said = new AttemptLines(() => Promise.reject(new Error("no room")));
  say(said, 5_000);
  expect(texts(await said.unsaid()).at(-1)).toBe("line 5000");
});
