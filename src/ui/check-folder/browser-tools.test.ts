import crypto from "node:crypto";
import zlib from "node:zlib";
import { makeBrowserTools } from "./browser-tools";

test.each([0, 1, 13, 100_000])(
  "the sum of %i bytes is the one that every library tells, also in parts",
  async (length) => {
    const { crc32 } = await makeBrowserTools();
    const bytes = new Uint8Array(crypto.randomBytes(length));
    expect(crc32(bytes)).toBe(zlib.crc32(bytes));
    const half = length >> 1;
    expect(crc32(bytes.subarray(half), crc32(bytes.subarray(0, half)))).toBe(zlib.crc32(bytes));
  },
);

test("a stream is unpacked as far as it goes, and never beyond what it may come to", async () => {
  const { inflatedLength, inflate } = await makeBrowserTools();
  const packed = new Uint8Array(zlib.deflateSync(Buffer.alloc(100_000, "grain")));
  expect(inflatedLength([packed], 100_000)).toBe(100_000);
  expect(inflatedLength([packed.subarray(0, packed.length >> 1)], 100_000)).toBeLessThan(100_000);
  expect(inflatedLength([packed], 1_000)).toBe(1_001);
  expect(inflate(packed, 100_000)?.length).toBe(100_000);
  expect(inflate(packed.subarray(3), 100_000)).toBeNull();
});
