import zlib from "node:zlib";
import { addTexts } from "./add-texts";
import { checkFile, readImageTexts } from "./check-file";
import { rgb8 } from "./pixels";
import { writePng } from "./png-write";

const crc32 = (bytes: Uint8Array, value = 0): number => zlib.crc32(bytes, value);
const tools = {
  crc32,
  deflate: (bytes: Uint8Array, level: number) => zlib.deflateSync(bytes, { level }),
  inflate: (bytes: Uint8Array) => zlib.inflateSync(bytes),
  inflatedLength: (bytes: Uint8Array) => zlib.inflateSync(bytes).length,
};

test("a PNG with texts added is whole, carries them beside its own, and keeps its picture", () => {
  const png = writePng(
    rgb8(
      3,
      2,
      Uint8Array.from({ length: 18 }, (_, i) => i * 9),
    ),
    { Software: "another", PlainTally: "old" },
    tools,
  );
  const told = addTexts(png, { PlainTally: '{"frame":7}' }, crc32);
  expect(checkFile("x.png", told, tools as never).verdict).toBe("good");
  expect([...readImageTexts(told)]).toEqual([
    ["PlainTally", '{"frame":7}'],
    ["Software", "another"],
  ]);
  expect(Buffer.from(told).subarray(-40).equals(Buffer.from(png).subarray(-40))).toBe(true);
});

test("what is no PNG or JPEG stays as it is", () => {
  const tiff = Uint8Array.of(0x49, 0x49, 0x2a, 0, 8, 0, 0, 0);
  expect(addTexts(tiff, { PlainTally: "x" }, crc32)).toBe(tiff);
});
