/**
 * Does a stream of OpenEXR's Huffman coder (ImfHuf: PIZ, and the coefficients of DWA) give the numbers that it should?
 * Only how many they are is followed.
 *
 *     least and largest number (4 each) · length of the table (4) · bits of the stream (4) · 0 (4)
 *     the table: lengths of codes, 6 bits each, with runs of nought · the stream
 *
 * The largest number is no number: it repeats the one before as often as the next 8 bits say. Of two codes the longer
 * one is the smaller; codes of one length ascend with their numbers.
 */
import { viewOf } from "./bytes";

const HEADER = 20;
/** Numbers are of 16 bits, and one more repeats. */
const NUMBERS = (1 << 16) + 1;
/** Lengths that stand for runs of codes that are not there. */
const SHORT_RUN = 59,
  LONG_RUN = 63,
  SHORTEST_LONG_RUN = 6;
/** The format knows 58; sums of more than 52 bits are no whole numbers any more, and no file needs them. */
const LONGEST = 52;
/** Codes up to that length are found in one step. */
const QUICK = 12;

/** Bits from the highest down. */
class BitReader {
  readonly #bytes: Uint8Array;
  #at: number;
  #bits = 0;
  #count = 0;

  constructor(bytes: Uint8Array, at: number) {
    this.#bytes = bytes;
    this.#at = at;
  }

  /** Behind the last byte that was begun. */
  get at(): number {
    return this.#at;
  }

  get isPastEnd(): boolean {
    return this.#at > this.#bytes.length;
  }

  /** At most 16. */
  take(n: number): number {
    while (this.#count < n) {
      this.#bits = ((this.#bits << 8) | (this.#bytes[this.#at] ?? 0)) & 0xffffff;
      this.#at++;
      this.#count += 8;
    }
    this.#count -= n;
    return (this.#bits >> this.#count) & ((1 << n) - 1);
  }
}

interface Codes {
  /** By the next QUICK bits: length and, above it, the number and one; 0 where the code is longer. */
  readonly quick: Uint32Array;
  /** By length: the smallest code, how many there are, and where their numbers begin. */
  readonly first: Float64Array;
  readonly count: Uint32Array;
  readonly start: Uint32Array;
  /** In the order of length, then of value. */
  readonly numbers: Uint32Array;
}

/** Null where the lengths lead out of the table, or are longer than any that can be followed. */
function readCodes(bits: BitReader, least: number, largest: number): Codes | null {
  const lengths = new Uint8Array(NUMBERS);
  for (let i = least; i <= largest; i++) {
    if (bits.isPastEnd) return null;
    const length = bits.take(6);
    const run =
      length === LONG_RUN
        ? bits.take(8) + SHORTEST_LONG_RUN
        : length >= SHORT_RUN
          ? length - SHORT_RUN + 2
          : 0;
    if (run > 0) {
      if (i + run > largest + 1) return null;
      i += run - 1;
    } else if (length > LONGEST) return null;
    else lengths[i] = length;
  }
  const count = new Uint32Array(LONGEST + 1);
  for (const length of lengths) if (length > 0) count[length]!++;
  const first = new Float64Array(LONGEST + 1);
  const start = new Uint32Array(LONGEST + 2);
  let code = 0;
  for (let length = LONGEST; length > 0; length--) {
    first[length] = code;
    code = Math.floor((code + count[length]!) / 2);
  }
  for (let length = 1; length <= LONGEST; length++) start[length + 1] = start[length]! + count[length]!;
  const numbers = new Uint32Array(start[LONGEST + 1]!);
  const next = start.slice();
  const quick = new Uint32Array(1 << QUICK);
  for (let i = least; i <= largest; i++) {
    const length = lengths[i]!;
    if (length === 0) continue;
    const place = next[length]!++;
    numbers[place] = i;
    if (length > QUICK) continue;
    const value = first[length]! + place - start[length]!;
    const from = value << (QUICK - length);
    quick.fill(((i + 1) << 6) | length, from, from + (1 << (QUICK - length)));
  }
  return { quick, first, count, start, numbers };
}

/** Whether the bytes are a stream that gives exactly so many numbers. */
export function givesNumbers(bytes: Uint8Array, wanted: number): boolean {
  if (bytes.length === 0) return wanted === 0;
  if (bytes.length < HEADER) return false;
  const view = viewOf(bytes);
  const [least, largest] = [view.getUint32(0, true), view.getUint32(4, true)];
  const total = view.getUint32(12, true);
  if (least >= NUMBERS || largest >= NUMBERS || least > largest) return false;
  const table = new BitReader(bytes, HEADER);
  const codes = readCodes(table, least, largest);
  if (codes === null || table.isPastEnd || Math.ceil(total / 8) > bytes.length - table.at) return false;
  return countNumbers(bytes, table.at, total, codes, largest, wanted) === wanted;
}

/** Numbers that the stream gives; -1 where a code means nothing. */
function countNumbers(
  bytes: Uint8Array,
  from: number,
  total: number,
  codes: Codes,
  repeat: number,
  wanted: number,
): number {
  let given = 0;
  let buffer = 0;
  let held = 0;
  let at = from;
  let left = total;
  const fill = (n: number): void => {
    while (held < n) {
      buffer = ((buffer << 8) | (bytes[at++] ?? 0)) & 0xffffff;
      held += 8;
    }
  };
  while (left > 0) {
    fill(QUICK);
    const found = codes.quick[(buffer >> (held - QUICK)) & ((1 << QUICK) - 1)]!;
    let number = -1;
    if (found !== 0) {
      number = (found >>> 6) - 1;
      held -= found & 63;
      left -= found & 63;
    } else {
      let code = 0;
      for (let length = 1; length <= LONGEST && number < 0; length++) {
        fill(1);
        held--;
        left--;
        code = code * 2 + ((buffer >> held) & 1);
        const offset = code - codes.first[length]!;
        if (offset >= 0 && offset < codes.count[length]!)
          number = codes.numbers[codes.start[length]! + offset]!;
      }
      if (number < 0) return -1;
    }
    if (left < 0) return -1;
    if (number === repeat) {
      if (left < 8 || given === 0) return -1;
      fill(8);
      held -= 8;
      left -= 8;
      given += (buffer >> held) & 255;
    } else given++;
    if (given > wanted) return -1;
  }
  return given;
}
