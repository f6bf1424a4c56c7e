import zlib from "node:zlib";
import { crc32 } from "./crc32";

test("every length and every beginning is as the system computes it", () => {
  let state = 5;
  const bytes = Uint8Array.from(
    { length: 300 },
    () => (state = (Math.imul(state, 1_103_515_245) + 12_345) >>> 0) >>> 24,
  );
  for (let from = 0; from < 9; from++)
    for (let to = from; to <= bytes.length; to += 7) {
      const some = bytes.subarray(from, to);
      expect(crc32(some)).toBe(zlib.crc32(some));
      // Piece by piece, as chunks are read.
      expect(crc32(some, crc32(bytes.subarray(0, from)))).toBe(zlib.crc32(bytes.subarray(0, to)));
    }
});
