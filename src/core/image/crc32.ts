/**
 * CRC-32 as PNG has it (ISO 3309), eight bytes at a step: where no library of the machine computes it, as in a browser.
 * Slicing by 8 after Kounavis and Berry, "A systematic approach to building high performance, software-based, CRC
 * generators" (2005): 2.5 times as fast as a byte at a step.
 */
import type { Crc32 } from "./png-format";

const STEPS = 8;
const POLYNOMIAL = 0xedb88320;

/** Eight tables of 256: the n-th tells what a byte does that stands n bytes before the end of a step. */
const TABLES: readonly Uint32Array[] = (() => {
  const tables = Array.from({ length: STEPS }, () => new Uint32Array(256));
  const [first] = tables as [Uint32Array];
  for (let byte = 0; byte < 256; byte++) {
    let value = byte;
    for (let bit = 0; bit < 8; bit++) value = value & 1 ? (value >>> 1) ^ POLYNOMIAL : value >>> 1;
    first[byte] = value;
  }
  for (let step = 1; step < STEPS; step++)
    for (let byte = 0; byte < 256; byte++) {
      const before = tables[step - 1]![byte]!;
      tables[step]![byte] = (before >>> 8) ^ first[before & 255]!;
    }
  return tables;
})();

/** @param value of what stands before; 0 for nothing */
export const crc32: Crc32 = (bytes, value = 0) => {
  const [t0, t1, t2, t3, t4, t5, t6, t7] = TABLES as [
    Uint32Array,
    Uint32Array,
    Uint32Array,
    Uint32Array,
    Uint32Array,
    Uint32Array,
    Uint32Array,
    Uint32Array,
  ];
  let crc = ~value;
  let at = 0;
  for (const end = bytes.length - STEPS; at <= end; at += STEPS) {
    crc ^= bytes[at]! | (bytes[at + 1]! << 8) | (bytes[at + 2]! << 16) | (bytes[at + 3]! << 24);
    crc =
      t7[crc & 255]! ^
      t6[(crc >>> 8) & 255]! ^
      t5[(crc >>> 16) & 255]! ^
      t4[crc >>> 24]! ^
      t3[bytes[at + 4]!]! ^
      t2[bytes[at + 5]!]! ^
      t1[bytes[at + 6]!]! ^
      t0[bytes[at + 7]!]!;
  }
  for (; at < bytes.length; at++) crc = (crc >>> 8) ^ t0[(crc ^ bytes[at]!) & 255]!;
  return ~crc >>> 0;
};
