import { packHalfPicture, unpackHalfPicture } from "./viewer-picture";

const picture = {
  width: 2,
  height: 1,
  wholeWidth: 4,
  wholeHeight: 2,
  channels: 3,
  data: Uint16Array.of(1, 2, 3, 4, 5, 65_535),
} as const;

test("comes back as it was packed", () =>
  expect(unpackHalfPicture(packHalfPicture(picture).buffer)).toEqual(picture));

test("what is cut short, too long, or something else is none", () => {
  const packed = packHalfPicture(picture);
  expect(unpackHalfPicture(packed.slice(0, -2).buffer)).toBeNull();
  expect(unpackHalfPicture(new Uint8Array([...packed, 0, 0]).buffer)).toBeNull();
  expect(unpackHalfPicture(packed.slice(0, 9).buffer)).toBeNull();
  expect(unpackHalfPicture(packed.slice(1).buffer)).toBeNull();
  const noChannels = packed.slice();
  noChannels[20] = 0;
  expect(unpackHalfPicture(noChannels.buffer)).toBeNull();
});
