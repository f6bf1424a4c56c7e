import { formatPhrase } from "../frames/phrase";
import { matchEdit, meansShot, newlyUsed, usedNumbers, withHandles } from "./edit-use";
import { readEdl } from "./edl";
import { readOtio } from "./otio";

const rate = { numerator: 24, denominator: 1 };
const timing = { timeLine: { first: 1001, last: 1096, rate }, rate, offset: 0 };
const shots = [
  { code: "HL010", timeLine: timing.timeLine },
  { code: "HL020", timeLine: { first: 1001, last: 1120, rate } },
];

const EDL = `TITLE: HARBOUR LIGHTS CUT 3
FCM: NON-DROP FRAME

001  HL010    V     C        00:00:42:01 00:00:44:01 01:00:00:00 01:00:02:00
* FROM CLIP NAME: HL010_v003.mov
002  AX       A     C        00:00:00:00 00:00:02:00 01:00:00:00 01:00:02:00
003  HL020    V     C        00:00:41:17 00:00:42:17 01:00:02:00 01:00:03:00
004  HL020    V     C        00:00:42:17 00:00:42:17 01:00:03:00 01:00:03:00
004  HL010    V     D    012 00:00:45:00 00:00:45:16 01:00:03:00 01:00:03:16
* FROM CLIP NAME: HL020
* TO CLIP NAME: HL010
005  TITLES   V     C        00:00:00:00 00:00:01:00 01:00:03:16 01:00:04:16
`;

describe("CMX 3600 lists", () => {
  const read = readEdl(EDL, rate);
  test("picture events become uses; out points are exclusive, a dissolve shows more of the clip it leaves", () => {
    expect(read).toMatchObject({ ok: true, edit: { title: "HARBOUR LIGHTS CUT 3" } });
    if (!read.ok) return;
    const { uses, unmatched } = matchEdit(read.edit, shots);
    // 00:00:42:01 at 24 is 1009; 48 frames. The dissolve takes 12 frames of HL020 from 1025 on.
    expect(uses.map((u) => [u.code, u.clips, formatPhrase(u.frames)])).toEqual([
      ["HL010", 2, "1009-1056,1080-1095"],
      ["HL020", 2, "1001-1036"],
    ]);
    expect(unmatched.map((clip) => clip.names[0])).toEqual(["TITLES"]);
  });
  test("sound is kept with its file, and clips with where in the edit they begin", () => {
    const heard = readEdl(
      `${EDL}006  BL  AA/V  C  00:00:00:00 00:00:00:12 01:00:04:16 01:00:05:04\n007  AX  A2  C  00:00:10:00 00:00:11:00 01:00:02:00 01:00:03:00\n* FROM CLIP NAME: gulls.wav\n`,
      rate,
    );
    expect(heard.ok && heard.edit.sound).toEqual([
      { names: ["AX"], first: 0, end: 48, starts: 0 },
      { names: ["BL"], first: 0, end: 12, starts: 112 },
      { names: ["gulls.wav", "AX"], first: 240, end: 264, starts: 48 },
    ]);
    expect(heard.ok && heard.edit.clips.map(({ names, starts }) => [names.at(-1), starts])).toEqual([
      ["HL010", 0],
      ["HL020", 48],
      ["HL020", 72],
      ["HL010", 72],
      ["TITLES", 88],
      ["BL", 112],
    ]);
  });
  test("a speed change shows more of the source in the same time", () => {
    const fast = readEdl(
      "001 HL010 V C 00:00:42:01 00:00:43:01 01:00:00:00 01:00:01:00\nM2 HL010 048.0 00:00:42:01\n",
      rate,
    );
    expect(fast.ok && fast.edit.clips[0]).toMatchObject({ first: 1009, end: 1057 });
  });
  test("source time code that counts from nought is taken from the first frame", () => {
    const zero = readEdl("001 HL010 V C 00:00:00:10 00:00:01:10 01:00:00:00 01:00:01:00", rate);
    expect(zero.ok && formatPhrase(matchEdit(zero.edit, shots).uses[0]!.frames)).toBe("1011-1034");
  });
  test("what an edit shows outside the time line is told apart", () => {
    const late = readEdl("001 HL010 V C 00:00:45:12 00:00:46:12 01:00:00:00 01:00:01:00", rate);
    expect(late.ok && formatPhrase(matchEdit(late.edit, shots).uses[0]!.outside)).toBe("1097-1115");
  });
  test.each([
    ["a letter for a digit", EDL.replace("00:00:44:01", "00:00:4x:01"), "edl-time-code", 4],
    [
      "a frame that the rate does not have",
      EDL.replace("00:00:42:17 01:00:02:00", "00:00:42:24 01:00:02:00"),
      "edl-time-code",
      7,
    ],
    [
      "an out point before the in point",
      EDL.replace("00:00:42:01 00:00:44:01", "00:00:44:01 00:00:42:01"),
      "edl-backwards",
      4,
    ],
    ["an event that is cut off", EDL.replace(" 01:00:02:00 01:00:03:00", ""), "edl-event", 7],
    ["no event at all", "TITLE: nothing\n", "edl-empty", null],
  ])("%s is told with its line", (_what, text, code, line) =>
    expect(readEdl(text, rate)).toMatchObject({ ok: false, fault: { code, line } }),
  );
});

const time = (value: number, per = 24): object => ({ OTIO_SCHEMA: "RationalTime.1", value, rate: per });
const range = (start: number, length: number, per = 24): object => ({
  OTIO_SCHEMA: "TimeRange.1",
  start_time: time(start, per),
  duration: time(length, per),
});
const clip = (name: string, source: object | null, more: object = {}): object => ({
  OTIO_SCHEMA: "Clip.2",
  name,
  source_range: source,
  effects: [],
  ...more,
});
/** A second of gap, and two seconds of a file that counts samples. */
const SOUND = [
  { OTIO_SCHEMA: "Gap.1", source_range: range(0, 24) },
  clip("harbour", range(24_000, 96_000, 48_000), {
    media_reference: { OTIO_SCHEMA: "ExternalReference.1", target_url: "file:///a/harbour.wav" },
  }),
];
const timeline = (children: readonly object[]): string =>
  JSON.stringify(
    {
      OTIO_SCHEMA: "Timeline.1",
      name: "cut 4",
      tracks: {
        OTIO_SCHEMA: "Stack.1",
        children: [
          { OTIO_SCHEMA: "Track.1", kind: "Video", children },
          { OTIO_SCHEMA: "Track.1", kind: "Audio", children: SOUND },
        ],
      },
    },
    null,
    1,
  );

describe("OpenTimelineIO timelines", () => {
  test("clips of video tracks count, transitions lengthen both neighbours, another rate is turned into the shot's", () => {
    const read = readOtio(
      timeline([
        clip("HL010", range(1009, 48)),
        { OTIO_SCHEMA: "Transition.1", in_offset: time(4), out_offset: time(6) },
        clip("HL020_v001", range(1010, 20)),
        { OTIO_SCHEMA: "Gap.1", source_range: range(0, 10) },
        clip("other", null, {
          media_references: {
            DEFAULT_MEDIA: {
              OTIO_SCHEMA: "ExternalReference.1",
              target_url: "file:///a/HL020.mov",
              available_range: range(2120, 20, 48),
            },
          },
        }),
      ]),
      rate,
    );
    expect(read.ok && matchEdit(read.edit, shots).uses.map((u) => [u.code, formatPhrase(u.frames)])).toEqual([
      ["HL010", "1009-1062"],
      ["HL020", "1006-1029,1060-1069"],
    ]);
  });
  test("sound is kept with its file, and clips with where in the edit they begin", () => {
    const read = readOtio(
      timeline([
        clip("HL010", range(1009, 48)),
        { OTIO_SCHEMA: "Gap.1", source_range: range(0, 10) },
        { OTIO_SCHEMA: "Stack.1", children: [clip("HL020", range(1, 5)), clip("HL010", range(1001, 7))] },
        clip("HL020", range(1010, 20)),
      ]),
      rate,
    );
    expect(read.ok && read.edit.clips.map(({ names, starts }) => [names[0], starts])).toEqual([
      ["HL010", 0],
      ["HL020", 58],
      ["HL010", 58],
      ["HL020", 65],
    ]);
    expect(read.ok && read.edit.sound).toEqual([
      { names: ["file:///a/harbour.wav", "harbour"], first: 12, end: 60, starts: 24 },
    ]);
  });
  test("a time warp shows more of the source", () => {
    const read = readOtio(
      timeline([
        clip("HL010", range(1001, 10), { effects: [{ OTIO_SCHEMA: "LinearTimeWarp.1", time_scalar: 2 }] }),
      ]),
      rate,
    );
    expect(read.ok && read.edit.clips[0]).toMatchObject({ first: 1001, end: 1021 });
  });
  test.each([
    ["no JSON", '{\n "OTIO_SCHEMA": "Timeline.1",\n "tracks": }', "otio-json", 3],
    ["another kind of document", '{"OTIO_SCHEMA": "Marker.2"}', "otio-kind", null],
    [
      "a time without a rate",
      timeline([clip("HL010", { start_time: { value: 1 }, duration: time(3) })]),
      "otio-time",
      null,
    ],
    ["no clip", timeline([]), "otio-kind", null],
    ["a clip that never ends", timeline([clip("HL010", range(1, 1e300))]), "otio-time", null],
    ["a clip at no rate to speak of", timeline([clip("HL010", range(1, 5, 1e-300))]), "otio-time", null],
    [
      "a warp to the end of time",
      timeline([
        clip("HL010", range(1, 5), { effects: [{ OTIO_SCHEMA: "LinearTimeWarp.1", time_scalar: 1e300 }] }),
      ]),
      "otio-time",
      null,
    ],
    [
      "stacks without end",
      `${'{"OTIO_SCHEMA":"Stack.1","children":['.repeat(100_000)}${"]}".repeat(100_000)}`,
      "otio-kind",
      null,
    ],
  ])("%s is refused with the place", (_what, text, code, line) =>
    expect(readOtio(text, rate)).toMatchObject({ ok: false, fault: { code, line } }),
  );
});

test.each([
  ["HL010", true],
  ["hl010_v003.mov", true],
  ["HL0101", false],
  ["HL010b", false],
  ["shot HL010", false],
])("%s means HL010: %p", (name, means) => expect(meansShot(name, "HL010")).toBe(means));

test("a later edit shows what is newly used; handles widen and stay inside the time line", () => {
  const use = { editName: "cut 4", frames: "1009-1064", previousFrames: "1009-1056" };
  expect(formatPhrase(newlyUsed(use, timing))).toBe("1057-1064");
  expect(formatPhrase(usedNumbers(use, { ...timing, offset: 1000 }))).toBe("2009-2064");
  expect(formatPhrase(withHandles(usedNumbers(use, timing), 12, timing))).toBe("1001-1076");
});

test.each([
  ["an event without an end", `001 HL010 V C${"x".repeat(300_000)}`],
  ["a clip name of blanks", `* FROM CLIP NAME: a${" ".repeat(300_000)}x`],
  ["a line of digits", "1".repeat(300_000)],
])("%s, in one long line, costs no more than its length and is refused", (_what, line) =>
  expect(readEdl(`TITLE: LONG\n${line}`, rate)).toMatchObject({
    ok: false,
    fault: { line: 2, message: expect.stringContaining("at most 2000") },
  }),
);

test("a speed that would show more frames than there can be is refused with its line", () =>
  expect(readEdl(`${EDL}\nM2   HL010   ${"9".repeat(400)}.0   00:00:41:17\n`, rate)).toMatchObject({
    ok: false,
    fault: { code: "edl-speed" },
  }));

test("a long clip name and blanks around it are read as before", () => {
  const read = readEdl(EDL.replace("HL010_v003.mov", `   HL010_${"v".repeat(200)}   `), rate);
  expect(read.ok && read.edit.clips[0]!.names).toContain(`HL010_${"v".repeat(200)}`);
});
