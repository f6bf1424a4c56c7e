import { canDrop, readTimeCode, timeCode } from "./time-code";
import { parseRate, type Rate, rateText, retimedCount, TRADE_RATES } from "./rate";

const [NTSC, DOUBLE, FILM] = [
  { numerator: 30_000, denominator: 1001 },
  { numerator: 60_000, denominator: 1001 },
  { numerator: 24, denominator: 1 },
] as const;

describe("drop-frame time code, by the figures of SMPTE ST 12-1", () => {
  test.each<[Rate, number, string]>([
    [NTSC, 0, "00:00:00;00"],
    [NTSC, 1_799, "00:00:59;29"],
    // The first two numbers of a minute are left out ...
    [NTSC, 1_800, "00:01:00;02"],
    [NTSC, 3_598, "00:02:00;02"],
    // ... but not of every tenth minute.
    [NTSC, 17_981, "00:09:59;29"],
    [NTSC, 17_982, "00:10:00;00"],
    [NTSC, 107_892, "01:00:00;00"],
    [NTSC, 2_589_407, "23:59:59;29"],
    [DOUBLE, 3_599, "00:00:59;59"],
    [DOUBLE, 3_600, "00:01:00;04"],
    [DOUBLE, 35_964, "00:10:00;00"],
    [DOUBLE, 215_784, "01:00:00;00"],
  ])("%p frame %p is %s", (rate, frame, code) => {
    expect(timeCode(frame, rate)).toBe(code);
    expect(readTimeCode(code, rate)).toBe(frame);
  });
  test("every frame of eleven minutes reads back as itself", () => {
    for (let frame = 0; frame < 20_000; frame++)
      if (readTimeCode(timeCode(frame, NTSC), NTSC) !== frame) throw new Error(`frame ${frame}`);
  });
  test("after an hour the clock is right to within four hundredths of a second; without dropping it is 3.6 s late", () => {
    const seconds = (107_892 * 1001) / 30_000;
    expect(Math.abs(seconds - 3_600)).toBeLessThan(0.04);
    expect(timeCode(107_892, NTSC, false)).toBe("00:59:56:12");
  });
  test.each([
    "00:01:00;00",
    "00:01:00;01",
    "00:00:00:30",
    "00:60:00:00",
    "00:00:61:00",
    "1:2:3",
    "00:00:00;00x",
  ])("%s is no time code at 29.97", (code) => expect(readTimeCode(code, NTSC)).toBeNull());
  test("only rates of n x 30000/1001 drop", () =>
    expect(TRADE_RATES.filter(canDrop).map(rateText)).toEqual(["29.97", "59.94"]));
});

test("non-drop counts plainly, also below nought", () =>
  expect([
    timeCode(1009, FILM),
    timeCode(86_400 * 24 - 1, FILM),
    timeCode(-25, FILM),
    readTimeCode("00:00:42:01", FILM),
  ]).toEqual(["00:00:42:01", "23:59:59:23", "-00:00:01:01", 1009]));

test.each<[string, Rate | null]>([
  ["24", FILM],
  ["23.976", { numerator: 24_000, denominator: 1001 }],
  ["23.98", { numerator: 24_000, denominator: 1001 }],
  ["29.97", NTSC],
  ["59.94", DOUBLE],
  ["24000/1001", { numerator: 24_000, denominator: 1001 }],
  ["12,5", { numerator: 25, denominator: 2 }],
  ["48/2", FILM],
  ["0", null],
  ["-24", null],
  ["24/0", null],
  ["1001", null],
  ["", null],
  ["fast", null],
])("the rate %p", (text, rate) => expect(parseRate(text)).toEqual(rate));

test("another rate keeps the duration: 150 at 30 are 50 at 10 and 300 at 60", () => {
  const at = (n: number): Rate => ({ numerator: n, denominator: 1 });
  expect([
    retimedCount(150, at(30), at(10)),
    retimedCount(150, at(30), at(60)),
    retimedCount(1, at(60), at(24)),
  ]).toEqual([50, 300, 1]);
});
