import { fromHalf } from "@/core/image/half";
import type { ReadPicture } from "./read-pixels";
import { toHalves } from "./to-halves";

const values = (picture: ReadPicture, over: 1 | 2 | 4): number[] =>
  [...toHalves(picture, over).data].map(fromHalf);

test("integers become 0 to 1, to the nearest half float", () => {
  const bytes = { width: 3, height: 1, channels: 1, depth: 8, data: Uint8Array.of(0, 51, 255) } as const;
  const words = {
    width: 3,
    height: 1,
    channels: 1,
    depth: 16,
    data: Uint16Array.of(0, 13_107, 65_535),
  } as const;
  for (const picture of [bytes, words]) {
    const [black, fifth, white] = values(picture, 1);
    expect([black, white]).toEqual([0, 1]);
    expect(fifth).toBeCloseTo(0.2, 3);
  }
});

test("floats stay what they are", () =>
  expect(values({ width: 2, height: 1, channels: 1, data: Float32Array.of(-0.25, 300) }, 1)).toEqual([
    -0.25, 300,
  ]));

test("smaller is the mean of what it stands for, a narrower square at the end too", () => {
  const picture = {
    width: 3,
    height: 3,
    channels: 2,
    // Grey 0 to 8, alpha 1 everywhere.
    data: Float32Array.from({ length: 18 }, (_, i) => (i % 2 === 1 ? 1 : i / 2)),
  } as const;
  expect(toHalves(picture, 2)).toMatchObject({
    width: 2,
    height: 2,
    wholeWidth: 3,
    wholeHeight: 3,
    channels: 2,
  });
  expect(values(picture, 2)).toEqual([2, 1, 3.5, 1, 6.5, 1, 8, 1]);
  expect(values(picture, 4)).toEqual([4, 1]);
});
