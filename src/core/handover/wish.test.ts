import { CODECS } from "./codecs";
import { handoverName } from "./handover-name";
import { movieFault, MOVIE_PRESETS, PRESET_FACTS, USUAL_MOVIE, withCodec } from "./wish";

test("what is usual, every preset, and every codec chosen on top of any preset, can be made", () => {
  expect(movieFault(USUAL_MOVIE)).toBeNull();
  expect(MOVIE_PRESETS.length).toBeGreaterThan(0);
  for (const preset of MOVIE_PRESETS) {
    const movie = { ...USUAL_MOVIE, ...PRESET_FACTS[preset].sets };
    expect([preset, movieFault(movie)]).toEqual([preset, null]);
    for (const codec of CODECS) expect([codec, movieFault(withCodec(movie, codec))]).toEqual([codec, null]);
  }
});

test.each([
  [{ container: "webm" }, "container"],
  [{ quality: 60 }, "quality"],
  [{ codec: "ffv1", container: "mkv", quality: 3 }, "quality"],
  [{ codec: "prores", container: "mov", bitRate: 4000 }, "bitRate"],
  [{ behind: { kind: "kept" } }, "behind"],
  [{ loops: 0 }, "loops"],
] as const)("%j is refused at its field", (sets, field) => {
  expect(movieFault({ ...USUAL_MOVIE, ...sets })?.field).toBe(field);
});

test("names say what it is of, what it is, and count up", () => {
  const all = { frames: "all", gaps: "stop", isDeep: false, tells: false, into: null } as const;
  const of = "HL010_v001_main_beauty";
  expect(handoverName(of, { ...all, as: "movie", movie: USUAL_MOVIE }, 1)).toBe(`${of}_001.mp4`);
  expect(handoverName(of, { ...all, as: "movie", movie: withCodec(USUAL_MOVIE, "apng") }, 12)).toBe(
    `${of}_012.png`,
  );
  expect(handoverName(of, { ...all, as: "report" }, 2)).toBe(`${of}_report_002.html`);
});
