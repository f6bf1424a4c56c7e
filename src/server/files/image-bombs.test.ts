/** Files that claim, or unpack to, far more than they hold. */
import zlib from "node:zlib";
import { checkFile } from "@/core/image/check-file";
import { readExr, writeExr } from "@/core/image/exr";
import { rgb8 } from "@/core/image/pixels";
import { writePng } from "@/core/image/png-write";
import { imageTools } from "./image-tools";

/** A hundred million zeros in a hundred kilobytes. */
const BOMB = zlib.deflateSync(Buffer.alloc(100_000_000), { level: 9 });

test("a stream is unpacked no further than it may come to", () => {
  expect(imageTools.inflate(BOMB, 1_000_000)).toBeNull();
  expect(imageTools.inflatedLength([BOMB], 1_000_000)).toBe(1_000_001);
  expect(imageTools.inflate(BOMB, 100_000_000)?.length).toBe(100_000_000);
});

test("a small PNG whose data unpacks to a hundred times its picture is damaged", () => {
  const good = Buffer.from(writePng(rgb8(16, 16, new Uint8Array(16 * 16 * 3)), {}, imageTools));
  const at = good.indexOf("IDAT") - 4;
  const length = good.readUInt32BE(at);
  const chunk = Buffer.alloc(12 + BOMB.length);
  chunk.writeUInt32BE(BOMB.length, 0);
  chunk.write("IDAT", 4, "latin1");
  BOMB.copy(chunk, 8);
  chunk.writeUInt32BE(imageTools.crc32(chunk.subarray(4, 8 + BOMB.length)), 8 + BOMB.length);
  const bad = Buffer.concat([good.subarray(0, at), chunk, good.subarray(at + 12 + length)]);
  expect(checkFile("a.0001.png", bad, imageTools, true)).toMatchObject({
    verdict: "damaged",
    code: "corrupt",
  });
});

test("a TIFF with sixty thousand entries that each point at all of it is read in no time and no room", () => {
  const entries = 60_000;
  const bytes = Buffer.alloc(8 + 2 + entries * 12 + 4_000_000);
  bytes.write("II", 0, "latin1");
  bytes.writeUInt16LE(42, 2);
  bytes.writeUInt32LE(8, 4);
  bytes.writeUInt16LE(entries, 8);
  for (let i = 0; i < entries; i++) {
    const place = 10 + i * 12;
    // Strip offsets, over and over: a million of them each.
    bytes.writeUInt16LE(273, place);
    bytes.writeUInt16LE(4, place + 2);
    bytes.writeUInt32LE(1_000_000, place + 4);
    bytes.writeUInt32LE(10 + entries * 12, place + 8);
  }
  expect(checkFile("a.0001.tif", bytes, imageTools)).toMatchObject({ verdict: "damaged" });
});

test("an OpenEXR that claims a picture which it cannot hold is damaged, and nothing is made room for", () => {
  const image = { width: 8, height: 4, channels: 3 as const, data: new Float32Array(8 * 4 * 3) };
  const settings = { depth: "half", compression: "zip", names: ["R", "G", "B"], pixelAspect: 1 } as const;
  const good = Buffer.from(writeExr(image, {}, imageTools.deflate, settings));
  expect(readExr(good, imageTools.inflate)).not.toBeNull();
  const claims = (width: number): Buffer => {
    const bad = Buffer.from(good);
    const at = bad.indexOf("dataWindow");
    // Name, type, size; then left, top, right and bottom.
    const right = at + "dataWindow".length + 1 + "box2i".length + 1 + 4 + 8;
    bad.writeInt32LE(width - 1, right);
    return bad;
  };
  for (const width of [16_000, 20_000, 2_000_000_000]) {
    expect(readExr(claims(width), imageTools.inflate)).toBeNull();
    expect(checkFile("a.0001.exr", claims(width), imageTools, true).verdict).toBe("damaged");
  }
});
