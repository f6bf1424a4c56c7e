import { EMPTY, rangeSet, setOf } from "../frames/frame-set";
import { formatPhrase } from "../frames/phrase";
import { lightBracket, lightFrames } from "./gathered-light";

test.each<[number, number, object]>([
  [16, 8, { before: 16, after: 16, share: 0 }],
  [18, 8, { before: 16, after: 24, share: 0.25 }],
  [-3, 4, { before: -4, after: 0, share: 0.25 }],
  [7, 1, { before: 7, after: 7, share: 0 }],
])("frame %p with a cache at every %p", (frame, every, bracket) =>
  expect(lightBracket(frame, every)).toEqual(bracket),
);

test("a run needs the caches around its frames, one step beyond either end at most", () => {
  expect(formatPhrase(lightFrames(rangeSet(1001, 1030), 8))).toBe("1000-1032/8");
  expect(formatPhrase(lightFrames(setOf([1017, 1040]), 8))).toBe("1016,1024,1040");
  expect(lightFrames(EMPTY, 8)).toEqual(EMPTY);
});

test("a part of a run needs no cache that the whole would not need", () => {
  const whole = lightFrames(rangeSet(1, 100), 7);
  for (let frame = 1; frame <= 100; frame++)
    for (const needed of [lightBracket(frame, 7).before, lightBracket(frame, 7).after])
      expect(
        [...whole.runs].some(
          (r) => needed >= r.first && needed <= r.last && (needed - r.first) % r.step === 0,
        ),
      ).toBe(true);
});
