import { compileLogPattern, LOG_SHAPES, type LogPattern, readSeconds } from "./log-pattern";
import { LogReader } from "./log-reader";

function patternOf(source: string): LogPattern {
  const read = compileLogPattern(source);
  if (!read.ok) throw new Error(read.fault);
  return read.pattern;
}
const shape = (name: string): LogPattern => patternOf(LOG_SHAPES.find((s) => s.name === name)!.source);

test("times are read as people write them", () => {
  expect(["41.3", "41,3", "0:41", "12:05.5", "1:02:03", "x", "1:2:3:4", ""].map(readSeconds)).toEqual([
    ...[41.3, 41.3, 41, 725.5, 3723],
    ...[null, null, null],
  ]);
});

test.each([
  ["frame 57 … 41.3 s", "Saved frame 57 in 41.3 s", { frame: 57, seconds: 41.3, node: null }],
  ["frame 57 … 41.3 s", "FRAME: -5 took 12 seconds", { frame: -5, seconds: 12 }],
  [
    "[node] … frame 57 … 0:41",
    "02:14 [quay-2] frame 1057 done 1:02:03",
    { frame: 1057, node: "quay-2", seconds: 3723 },
  ],
  ["[node] … frame 57 … 0:41", "[barge] frame #7 begun", { frame: 7, node: "barge", seconds: null }],
  [
    "frame=57 node=barge seconds=41.3",
    "x frame=57 node=barge seconds=41.3 y",
    { frame: 57, node: "barge", seconds: 41.3 },
  ],
  ["name.0057.png … 41.3 s", "wrote /f/quay.0057.png (41,3 s)", { frame: 57, seconds: 41.3 }],
  [
    "warning … frame 57: what is the matter",
    "Warning, frame 57: no texture",
    { frame: 57, message: "no texture" },
  ],
])("%s reads: %s", (name, line, expected) => {
  expect(shape(name).read(line)).toMatchObject(expected);
});

test("where each group stands is told, for whoever tries the pattern out", () => {
  const line = "[quay-2] frame 57";
  const { spans } = shape("[node] … frame 57 … 0:41").read(line)!;
  expect(spans.map(({ group, from, to }) => [group, line.slice(from, to)])).toEqual([
    ["frame", "57"],
    ["node", "quay-2"],
  ]);
});

test.each([
  ["", "Write a pattern"],
  ["(?P<frame>\\d+", "cannot be read"],
  ["frame (\\d+)", "names no frame"],
  ["(?P<frame>\\d+)(?P<colour>x)", 'group "colour"'],
  ["x".repeat(600), "500 characters"],
])("a pattern that is none is told: %#", (source, fault) => {
  expect(compileLogPattern(source)).toMatchObject({ ok: false, fault: expect.stringContaining(fault) });
});

test("a pattern that would never end elsewhere is read in the time of its line", () => {
  const evil = patternOf("^(?:a+)+(?P<frame>\\d+)$");
  expect(evil.read("a".repeat(4_000))).toBeNull();
});

test("a log comes in pieces of any length; the last word counts, and messages are kept once", () => {
  const log = [
    "[quay-1] frame 1 begun",
    "Warning: frame 1: no texture",
    "[quay-2] frame 1 done 0:41",
    "Warning: frame 1: no texture",
    "nothing of use",
    "[quay-2] frame 99999999999 done 0:01",
    "[mole-1] frame 2 done 0:12",
  ].join("\r\n");
  const patterns = [shape("[node] … frame 57 … 0:41"), shape("warning … frame 57: what is the matter")];
  for (const piece of [1, 3, 7, 1000]) {
    const reader = new LogReader(patterns);
    for (let at = 0; at < log.length; at += piece) reader.push(log.slice(at, at + piece));
    const read = reader.end();
    expect(read.frames).toEqual([
      { frame: 1, node: "quay-2", seconds: 41, message: "no texture" },
      { frame: 2, node: "mole-1", seconds: 12, message: null },
    ]);
    expect([read.matched, read.isWhole]).toEqual([5, true]);
  }
});

test("a line without end costs no more memory than any other", () => {
  const reader = new LogReader([shape("frame 57 … 41.3 s")]);
  for (let i = 0; i < 1_000; i++) reader.push("x".repeat(10_000));
  reader.push("\nframe 3 4.5 s");
  expect(reader.end().frames).toEqual([{ frame: 3, node: null, seconds: 4.5, message: null }]);
});
