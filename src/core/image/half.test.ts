import { fromHalf, toHalf } from "./half";

/** From the table of IEEE 754-2008, binary16. */
test.each([
  [0x0001, 2 ** -24],
  [0x03ff, 2 ** -14 * (1023 / 1024)],
  [0x0400, 2 ** -14],
  [0x3555, 0.333251953125],
  [0x3c00, 1],
  [0xc000, -2],
  [0x7bff, 65_504],
  [0x7c00, Infinity],
  [0xfc00, -Infinity],
  [0x0000, 0],
])("%p is %p, both ways", (half, value) => {
  expect(fromHalf(half)).toBe(value);
  expect(toHalf(value)).toBe(half);
});

test("every finite half comes back as itself", () => {
  for (let half = 0; half < 0x10000; half++)
    if ((half & 0x7c00) !== 0x7c00 && toHalf(fromHalf(half)) !== half)
      throw new Error(`0x${half.toString(16)}`);
});

test("ties go to the even neighbour, overflow becomes infinite, no number stays none", () => {
  expect([toHalf(1 + 2 ** -11), toHalf(1 + 3 * 2 ** -11), toHalf(65_519), toHalf(65_520)]).toEqual([
    0x3c00, 0x3c02, 0x7bff, 0x7c00,
  ]);
  expect(fromHalf(toHalf(NaN))).toBeNaN();
});
