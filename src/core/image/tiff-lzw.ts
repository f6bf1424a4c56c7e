/**
 * Does an LZW stream of a TIFF give a piece of a picture (TIFF 6.0, section 13)? Only the lengths of its strings are
 * followed: what they hold is nobody's question here. Codes grow from 9 to 12 bits, one code early as the standard
 * has it; files of before 1992 begin with the lowest bit and grow in time.
 */
const CLEAR = 256,
  END = 257,
  FIRST = 258,
  LARGEST = 4_096;

/** @returns true where a code means nothing, or the stream gives fewer than `length` bytes */
export function lzwFault(bytes: Uint8Array, length: number): boolean {
  const isOld = bytes[0] === 0 && (bytes[1]! & 1) === 1;
  /** Length of the string of each code. */
  const strings = new Uint32Array(LARGEST);
  for (let i = 0; i < 256; i++) strings[i] = 1;
  const total = bytes.length * 8;
  let next = FIRST;
  let width = 9;
  let before = 0;
  let given = 0;
  for (let bit = 0; bit + width <= total && given < length;) {
    const at = bit >> 3;
    const [a, b, c] = [bytes[at]!, bytes[at + 1] ?? 0, bytes[at + 2] ?? 0];
    const code = isOld
      ? ((a | (b << 8) | (c << 16)) >> (bit & 7)) & ((1 << width) - 1)
      : (((a << 16) | (b << 8) | c) >> (24 - width - (bit & 7))) & ((1 << width) - 1);
    bit += width;
    if (code === END) break;
    if (code === CLEAR) {
      next = FIRST;
      width = 9;
      before = 0;
      continue;
    }
    // The code that is about to be made is the string before with its own first letter.
    if (before !== 0 && next < LARGEST) strings[next++] = before + 1;
    if (code >= next) return true;
    before = strings[code]!;
    given += before;
    if (next + (isOld ? 0 : 1) >= 1 << width && width < 12) width++;
  }
  return given < length;
}
