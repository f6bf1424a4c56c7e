import { rateEffect } from "./rate-effect";

const rate = (numerator: number, denominator = 1) => ({ numerator, denominator });

test.each([
  [150, rate(30), rate(60), "double speed, 5 s become 2.5 s."],
  [96, rate(24), rate(12), "half speed, 4 s become 8 s."],
  [96, rate(24), rate(24000, 1001), "99.9 % of its speed, 4 s become 4 s."],
  [2400, rate(24), rate(25), "104.2 % of its speed, 100 s become 96 s."],
])("%i frames of %j at %j", (frames, made, played, words) => {
  expect(rateEffect(frames, made, played)).toContain(words);
});

test("the same rate, however it is written, has no effect to tell", () => {
  expect(rateEffect(10, rate(24), rate(24))).toBeNull();
  expect(rateEffect(10, rate(48, 2), rate(24))).toBeNull();
});
