import { valueAt } from "./animate";

const key = (ease: "linear" | "smooth" | "hold") => ({
  keys: [
    { frame: 10, value: [0, 4] as const, ease },
    { frame: 20, value: [10, 0] as const },
  ],
});

test.each([
  ["before the first key", key("linear"), 5, [0, 4]],
  ["after the last key", key("linear"), 25, [10, 0]],
  ["halfway, linear", key("linear"), 15, [5, 2]],
  ["between whole frames", key("linear"), 12.5, [2.5, 3]],
  ["halfway, smooth", key("smooth"), 15, [5, 2]],
  ["a tenth on, smooth begins slowly", key("smooth"), 11, [0.28, 3.888]],
  ["hold stays until the next key", key("hold"), 19.9, [0, 4]],
] as const)("%s", (_name, keys, frame, value) => {
  const found = valueAt<readonly number[]>(keys, frame);
  found.forEach((x, i) => expect(x).toBeCloseTo(value[i]!, 9));
});

test("a constant is itself at any time", () =>
  expect([valueAt(3, -1), valueAt<readonly number[]>([1, 2], 99)]).toEqual([3, [1, 2]]));
