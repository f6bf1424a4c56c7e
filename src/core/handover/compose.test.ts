import fc from "fast-check";
import { ALPHAS } from "../image/file-format";
import type { FloatImage, IntegerImage } from "../image/pixels";
import { type Colour, VIEWS } from "../playback/shown-as";
import { shownPixel } from "../playback/shown-pixel";
import { burnIn, compose, type SeenPicture } from "./compose";

const one = (values: readonly number[]): FloatImage => ({
  width: 1,
  height: 1,
  channels: values.length as 4,
  data: Float32Array.from(values),
});

/** Parts of 255. */
const colourOf = (picture: SeenPicture): number[] =>
  [...picture.data].map((value) => (value * 255) / (picture.depth === 8 ? 255 : 65_535));

const light = fc.double({ min: -0.5, max: 20, noNaN: true });
const share = fc.double({ min: 0, max: 1, noNaN: true });

test("shows every pixel as the viewer's reference does, within one of 255", () => {
  fc.assert(
    fc.property(
      fc.tuple(light, light, light, share),
      fc.constantFrom(...VIEWS),
      fc.constantFrom(...ALPHAS),
      fc.integer({ min: -3, max: 3 }),
      fc.tuple(share, share, share),
      fc.constantFrom(8 as const, 16 as const),
      (raw, view, alpha, stops, behind, depth) => {
        const seen = compose(one(raw), { view, alpha, stops, behind, depth });
        const reference = shownPixel(
          raw,
          { stops, gamma: 1, channel: "colour", view, alpha },
          behind as Colour,
        );
        colourOf(seen).forEach((value, c) =>
          expect(Math.abs(value - reference[c]! * 255)).toBeLessThanOrEqual(1),
        );
      },
    ),
    { seed: 14, numRuns: 2_000 },
  );
});

test("a straight and a premultiplied source give the same composite, within one of 255", () => {
  fc.assert(
    fc.property(
      fc.tuple(share, share, share, share),
      fc.constantFrom(...VIEWS),
      fc.tuple(share, share, share),
      ([r, g, b, a], view, behind) => {
        const how = { view, stops: 0, behind, depth: 8 } as const;
        const straight = colourOf(compose(one([r, g, b, a]), { ...how, alpha: "straight" }));
        const premultiplied = colourOf(
          compose(one([r * a, g * a, b * a, a]), { ...how, alpha: "premultiplied" }),
        );
        straight.forEach((value, c) => expect(Math.abs(value - premultiplied[c]!)).toBeLessThanOrEqual(1));
      },
    ),
    { seed: 15, numRuns: 1_000 },
  );
});

test("keeps alpha, with colour without its weight, where nothing is put behind", () => {
  const how = { view: "plain", stops: 0, behind: null, depth: 8 } as const;
  expect([...compose(one([0.2, 0.1, 0, 0.5]), { ...how, alpha: "premultiplied" }).data]).toEqual([
    102, 51, 0, 128,
  ]);
  expect([...compose(one([0.4, 0.2, 0, 0.5]), { ...how, alpha: "straight" }).data]).toEqual([
    102, 51, 0, 128,
  ]);
  expect([...compose(one([0, 0, 0, 0]), { ...how, alpha: "premultiplied" }).data]).toEqual([0, 0, 0, 0]);
});

test("grey is the same in every channel, and integers come out as they went in", () => {
  const grey: IntegerImage = { width: 2, height: 1, channels: 1, depth: 8, data: Uint8Array.of(7, 250) };
  const how = { view: "plain", alpha: "none", stops: 0, behind: [0, 0, 0], depth: 8 } as const;
  expect([...compose(grey, how).data]).toEqual([7, 7, 7, 250, 250, 250]);
});

test("a picture shows through where it is transparent, and must have the same size", () => {
  const behind: SeenPicture = {
    width: 1,
    height: 1,
    channels: 3,
    depth: 8,
    data: Uint8Array.of(200, 100, 0),
  };
  const how = { view: "plain", alpha: "straight", stops: 0, behind, depth: 8 } as const;
  expect([...compose(one([0, 0, 0, 0]), how).data]).toEqual([200, 100, 0]);
  expect([...compose(one([1, 1, 1, 0.2]), how).data]).toEqual([211, 131, 51]);
  const wide: FloatImage = { width: 2, height: 1, channels: 3, data: new Float32Array(6) };
  expect(() => compose(wide, how)).toThrow(RangeError);
});

test("a text is white on a shaded box, cut at the picture's edge, and seen where the picture is transparent", () => {
  const picture: SeenPicture = {
    width: 2,
    height: 1,
    channels: 4,
    depth: 8,
    data: Uint8Array.of(100, 100, 100, 0, 100, 100, 100, 255),
  };
  burnIn(picture, Uint8Array.of(255, 0, 255), { left: 0, top: 0, width: 3, height: 1 });
  expect([...picture.data]).toEqual([255, 255, 255, 255, 40, 40, 40, 255]);
});
