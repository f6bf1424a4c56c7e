import { type Animated, animatedText, readAnimated } from "./lens";

test.each<[string, Animated<number> | null]>([
  ["2.8", 2.8],
  [" 5 ", 5],
  [
    "1001:2, 1050:6.5",
    {
      keys: [
        { frame: 1001, value: 2 },
        { frame: 1050, value: 6.5 },
      ],
    },
  ],
  [
    "20:1,10:2",
    {
      keys: [
        { frame: 10, value: 2 },
        { frame: 20, value: 1 },
      ],
    },
  ],
  ["-5:1", { keys: [{ frame: -5, value: 1 }] }],
  ["", null],
  ["near", null],
  ["1001:", null],
  ["5, 6", null],
  ["1001:2,", null],
])("%p", (text, value) => expect(readAnimated(text)).toEqual(value));

test("what is written reads back", () => {
  for (const value of [
    2.8,
    {
      keys: [
        { frame: 1, value: 2 },
        { frame: 9.5, value: 3 },
      ],
    },
  ])
    expect(readAnimated(animatedText(value))).toEqual(value);
});
