import { DEFAULT_FILE } from "../image/file-format";
import { type Colour, PLAIN_LOOK, readingOf, usedReading, VIEWS } from "./shown-as";
import {
  backgroundAt,
  isBeforeWipe,
  type PixelLook,
  type Raw,
  shownDifference,
  shownOnion,
  shownPixel,
} from "./shown-pixel";

const look = (settings: Partial<PixelLook> = {}): PixelLook => ({
  stops: 0,
  gamma: 1,
  channel: "colour",
  view: "plain",
  alpha: "none",
  ...settings,
});
const BLACK: Colour = [0, 0, 0];
const WHITE: Colour = [1, 1, 1];

/** To five decimals: a half of a step of 16 bits. */
const near = (shown: Colour, wanted: Colour): void =>
  wanted.forEach((value, c) => expect(shown[c]).toBeCloseTo(value, 5));

test.each<[string, Raw, Partial<PixelLook>, Colour, Colour]>([
  ["display values are shown as they are", [0.25, 0.5, 1, 0], {}, BLACK, [0.25, 0.5, 1]],
  [
    "one stop doubles them, and what is above white is cut",
    [0.25, 0.6, 1, 1],
    { stops: 1 },
    BLACK,
    [0.5, 1, 1],
  ],
  ["gamma lifts the middle", [0.25, 1, 0, 1], { gamma: 2 }, BLACK, [0.5, 1, 0]],
  [
    "middle grey of light through sRGB",
    [0.18, 0.18, 0.18, 1],
    { view: "srgb" },
    BLACK,
    [0.461356, 0.461356, 0.461356],
  ],
  ["light of 1 through the film curve", [1, 1, 1, 1], { view: "film" }, BLACK, [0.90823, 0.90823, 0.90823]],
  ["ten metres are middle grey, the sky is black", [10, 65_504, 0, 1], { view: "depth" }, BLACK, [0.5, 0, 1]],
  ["directions", [-1, 0, 1, 1], { view: "direction" }, BLACK, [0, 0.5, 1]],
  ["straight colours over white", [0.2, 0.4, 0.6, 0.5], { alpha: "straight" }, WHITE, [0.6, 0.7, 0.8]],
  ["premultiplied over white", [0.1, 0.2, 0.3, 0.5], { alpha: "premultiplied" }, WHITE, [0.6, 0.7, 0.8]],
  ["alpha that does not count", [0.1, 0.2, 0.3, 0.5], { alpha: "none" }, WHITE, [0.1, 0.2, 0.3]],
  [
    "nothing at all over a colour is that colour, through every curve",
    [0, 0, 0, 0],
    { alpha: "straight", view: "film" },
    [0.2, 0.5, 0.8],
    [0.2, 0.5, 0.8],
  ],
  [
    "light glows over what is behind it: alpha of 0 adds",
    [0.5, 0, 0, 0],
    { alpha: "premultiplied" },
    [0.2, 0.2, 0.2],
    [0.7, 0.2, 0.2],
  ],
  ["red alone", [0.3, 0.6, 0.9, 1], { channel: "red" }, WHITE, [0.3, 0.3, 0.3]],
  [
    "alpha alone, untouched by exposure",
    [1, 1, 1, 0.4],
    { channel: "alpha", alpha: "straight", stops: 3 },
    WHITE,
    [0.4, 0.4, 0.4],
  ],
  ["alpha of a picture that has none is whole", [1, 1, 1, 0.4], { channel: "alpha" }, BLACK, [1, 1, 1]],
  ["luminance", [1, 0, 0, 1], { channel: "luminance" }, BLACK, [0.2126, 0.2126, 0.2126]],
  [
    "what is no number is black, what is endless is white",
    [NaN, Infinity, -Infinity, 1],
    {},
    BLACK,
    [0, 1, 0],
  ],
])("%s", (_name, raw, settings, behind, shown) => near(shownPixel(raw, look(settings), behind), shown));

test.each(VIEWS)("view %s stays between black and white, whatever the numbers are", (view) => {
  for (const value of [NaN, -Infinity, -1e9, -1, -0.1, 0, 1e-9, 0.5, 1, 7, 65_504, 1e30, Infinity])
    for (const shown of shownPixel(
      [value, value, value, value],
      look({ view, alpha: "straight", stops: 4 }),
      WHITE,
    )) {
      expect(shown).toBeGreaterThanOrEqual(0);
      expect(shown).toBeLessThanOrEqual(1);
    }
});

test("a wipe: upright, the first picture is on its left; a quarter turned, above", () => {
  expect([isBeforeWipe(0, -1, 50), isBeforeWipe(0, 1, -50)]).toEqual([true, false]);
  expect([isBeforeWipe(90, 50, -1), isBeforeWipe(90, -50, 1)]).toEqual([true, false]);
});

test("a difference is the same either way, and cut at white", () => {
  near(shownDifference([0.5, 0.2, 0], [0.4, 0.3, 0], 2), [0.2, 0.2, 0]);
  near(shownDifference([0, 0, 1], [1, 0, 0.9], 20), [1, 0, 1]);
});

test("neighbours shine through by a quarter each; one that is missing leaves its share", () => {
  near(
    shownOnion(
      [1, 0, 0.5],
      [
        [0, 1, 0.5],
        [0, 0, 0.5],
      ],
    ),
    [0.5, 0.25, 0.5],
  );
  near(shownOnion([1, 0, 0], [null, [0, 1, 0]]), [0.75, 0.25, 0]);
  near(shownOnion([1, 0, 0], []), [1, 0, 0]);
});

test("the checker's squares are eight pixels wide", () =>
  expect([0, 7, 8, 15, 16].map((x) => backgroundAt("checker", BLACK, x, 0)[0])).toEqual([
    0.4, 0.4, 0.6, 0.6, 0.4,
  ]));

test("a colour of one's own is behind everything", () =>
  near(backgroundAt("own", [0.1, 0.2, 0.3], 5, 9), [0.1, 0.2, 0.3]));

test("files are read by what they hold, and somebody's word goes before that", () => {
  const plan = (kind: "png" | "exr") => ({ file: DEFAULT_FILE[kind], alpha: "none" as const });
  const foreign = { kind: "foreign", format: "TIFF", depth: 32, isLinear: true } as const;
  expect(readingOf(plan("png"), "depth", true).view).toBe("plain");
  expect(readingOf(plan("exr"), "beauty", true).view).toBe("film");
  expect(readingOf(plan("exr"), "beauty", false).view).toBe("srgb");
  expect(readingOf(plan("exr"), "albedo", true).view).toBe("srgb");
  expect(readingOf(plan("exr"), "depth", false).view).toBe("depth");
  expect(readingOf(plan("exr"), "normal", true).view).toBe("direction");
  const taken = readingOf({ file: foreign, alpha: "straight" }, "beauty", false);
  expect(taken).toMatchObject({ view: "srgb", alpha: "straight", why: expect.stringContaining("too dark") });
  expect(usedReading(taken, { ...PLAIN_LOOK, view: "plain" })).toEqual({ view: "plain", alpha: "straight" });
});
