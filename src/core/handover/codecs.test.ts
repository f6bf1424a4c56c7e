import { CODEC_FACTS, CODECS, encodeArguments, filterOf, keptAs, movieSize } from "./codecs";

const percent = (value: number) => ({ percent: value, size: null });
const PLAIN = { hasAlpha: false, isDeep: false };

test("sides are made even where the codec asks, by a line more and never by a line less", () => {
  expect(movieSize({ width: 481, height: 271 }, percent(100), "h264")).toEqual({
    scaled: { width: 481, height: 271 },
    movie: { width: 482, height: 272 },
  });
  expect(movieSize({ width: 481, height: 271 }, percent(100), "ffv1").movie).toEqual({
    width: 481,
    height: 271,
  });
  expect(movieSize({ width: 1920, height: 1080 }, percent(50), "h264").movie).toEqual({
    width: 960,
    height: 540,
  });
  expect(movieSize({ width: 3, height: 3 }, percent(1), "gif").movie).toEqual({ width: 1, height: 1 });
});

test("pictures are fitted into a size that was asked for, with their proportions", () => {
  const wanted = { percent: 50, size: { width: 1001, height: 1000 } };
  const size = movieSize({ width: 1920, height: 1080 }, wanted, "h264");
  expect(size).toEqual({
    scaled: { width: 1001, height: 563 },
    movie: { width: 1002, height: 1000 },
  });
  expect(filterOf("h264", { width: 1920, height: 1080 }, size, PLAIN)).toContain(
    "pad=1002:1000:(ow-iw)/2:(oh-ih)/2:black",
  );
});

test("every codec has a usual ending, an encoder, and a way to keep pixels of each kind", () => {
  expect(CODECS.length).toBeGreaterThan(0);
  for (const codec of CODECS) {
    const { containers, encoders } = CODEC_FACTS[codec];
    expect([containers.length > 0, encoders.length > 0]).toEqual([true, true]);
    for (const hasAlpha of [false, true])
      for (const isDeep of [false, true]) expect(keptAs(codec, { hasAlpha, isDeep })).toMatch(/^[a-z0-9]+$/);
  }
});

test("quality is the codec's usual one, or as asked; a bit rate takes its place", () => {
  const settings = { codec: "h264", container: "mp4", quality: null, bitRate: null, loops: 1 } as const;
  expect(encodeArguments(settings, PLAIN, "libx264").join(" ")).toContain("-crf 16");
  expect(encodeArguments({ ...settings, quality: 30 }, PLAIN, "libx264").join(" ")).toContain("-crf 30");
  const rated = encodeArguments({ ...settings, bitRate: 4000 }, PLAIN, "libx264").join(" ");
  expect(rated).toContain("-b:v 4000k");
  expect(rated).not.toContain("-crf");
});

test("brightness and difference are told as bt709; red, green and blue are not", () => {
  const told = (codec: "h264" | "ffv1"): boolean =>
    encodeArguments(
      { codec, container: CODEC_FACTS[codec].containers[0]!, quality: null, bitRate: null, loops: 1 },
      PLAIN,
      CODEC_FACTS[codec].encoders[0]!,
    ).includes("bt709");
  expect([told("h264"), told("ffv1")]).toEqual([true, false]);
});

test("a GIF counts how often it comes again: once is never again, for ever is 0", () => {
  const loops = (times: number): string | undefined => {
    const all = encodeArguments(
      { codec: "gif", container: "gif", quality: null, bitRate: null, loops: times },
      PLAIN,
      "gif",
    );
    return all[all.indexOf("-loop") + 1];
  };
  expect([loops(0), loops(1), loops(3)]).toEqual(["0", "-1", "2"]);
});

test("pictures with alpha are weighted by it while their size changes, and not touched otherwise", () => {
  const size = { width: 100, height: 100 };
  const half = movieSize(size, percent(50), "prores");
  expect(filterOf("prores", size, half, { hasAlpha: true, isDeep: true })).toMatch(
    /format=gbrap16le,premultiply=inplace=1,scale=50:50.*unpremultiply/,
  );
  expect(filterOf("ffv1", size, movieSize(size, percent(100), "ffv1"), PLAIN)).toBe("format=bgr0,setsar=1");
});
