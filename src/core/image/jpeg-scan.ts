/**
 * Walks through a scan of Huffman codes (ITU T.81, F.2 and G.2): every code is read, no value is made of it. What the
 * refining scans of a progressive picture need to know, which coefficients are not nought yet, is kept as a bit each.
 */

/** Longest code. */
const LONGEST = 16;
/** Codes up to that length are found in one step. */
const QUICK = 9;
/** No code begins so. */
const NO_CODE = -1;

export class HuffmanTable {
  /** By the next QUICK bits: length and value, 0 where the code is longer. */
  readonly quick = new Uint16Array(1 << QUICK);
  /** By length: largest code, -1 where there is none, and what to add to a code to find its value. */
  readonly most = new Int32Array(LONGEST + 2).fill(-1);
  readonly shift = new Int32Array(LONGEST + 1);
  readonly values: Uint8Array;

  private constructor(values: Uint8Array) {
    this.values = values;
  }

  /** Null where the lengths fit into no tree. @param counts codes of each length, 1 to 16 */
  static of(counts: Uint8Array, values: Uint8Array): HuffmanTable | null {
    const table = new HuffmanTable(values);
    let code = 0;
    let k = 0;
    for (let length = 1; length <= LONGEST; length++) {
      const n = counts[length - 1]!;
      if (code + n > 1 << length) return null;
      table.shift[length] = k - code;
      for (let i = 0; i < n; i++, code++, k++)
        if (length <= QUICK)
          table.quick.fill(
            (length << 8) | values[k]!,
            code << (QUICK - length),
            (code + 1) << (QUICK - length),
          );
      table.most[length] = n > 0 ? code - 1 : -1;
      code <<= 1;
    }
    return table;
  }
}

/** A channel of a scan. */
export interface ScanPart {
  readonly component: number;
  readonly dc: HuffmanTable | null;
  readonly ac: HuffmanTable | null;
  /** Of a unit. */
  readonly blocks: number;
  /** Where a block of a unit stands among those of its channel. */
  readonly place: (unit: number, block: number) => number;
}

export interface Scan {
  readonly bytes: Uint8Array;
  readonly from: number;
  /** Exclusive. */
  readonly to: number;
  readonly units: number;
  /** Units; 0: never. */
  readonly restartEvery: number;
  readonly isProgressive: boolean;
  /** Coefficients of a progressive scan, both ends inclusive. */
  readonly first: number;
  readonly last: number;
  /** The bit before the one that this scan brings; 0 in a first one. */
  readonly high: number;
  readonly isRefined: boolean;
  readonly parts: readonly ScanPart[];
}

export interface Walked {
  /** Units that were read whole. */
  readonly units: number;
  /** Bytes that belong to no unit: behind the last one, and before marks between stretches. */
  readonly spare: number;
}

/** One a file: later scans know what earlier ones brought. */
export class ScanReader {
  /** A bit for each coefficient of each block, in the order of the codes; made when it is first needed. */
  readonly #present: (Uint32Array | null)[];
  readonly #blocks: readonly number[];
  #bytes: Uint8Array = new Uint8Array(0);
  #at = 0;
  #to = 0;
  /** Bits that were read and not used, the newest lowest. */
  #bits = 0;
  #count = 0;
  /** Of these, what stands for bytes that are not there. */
  #behind = 0;
  /** Such a bit was used. */
  #missing = false;
  /** Bytes between the codes of a stretch and the mark behind it. */
  #skipped = 0;
  #endOfBand = 0;

  /** @param blocks of each channel */
  constructor(blocks: readonly number[]) {
    this.#blocks = blocks;
    this.#present = blocks.map(() => null);
  }

  /** Reads until the picture is complete, the bytes are at their end, or a code means nothing. */
  walk(scan: Scan): Walked {
    this.#bytes = scan.bytes;
    this.#at = scan.from;
    this.#to = scan.to;
    this.#skipped = 0;
    this.#restart();
    let unit = 0;
    for (; unit < scan.units; unit++) {
      if (scan.restartEvery > 0 && unit > 0 && unit % scan.restartEvery === 0)
        if (!this.#toRestart((unit / scan.restartEvery - 1) & 7)) break;
      let isWhole = true;
      for (const part of scan.parts) {
        for (let k = 0; k < part.blocks && isWhole; k++)
          isWhole = scan.isProgressive
            ? this.#progressive(scan, part, part.place(unit, k))
            : this.#sequential(part);
        if (!isWhole) break;
      }
      if (!isWhole || this.#missing) break;
    }
    return { units: unit, spare: this.#to - this.#used() + this.#skipped };
  }

  /** Where the bytes that were not needed begin. */
  #used(): number {
    return this.#at - (Math.max(0, this.#count - this.#behind) >> 3);
  }

  #restart(): void {
    this.#bits = 0;
    this.#count = 0;
    this.#behind = 0;
    this.#missing = false;
    this.#endOfBand = 0;
  }

  /** On to the mark that separates two stretches; what stands before it is padding. */
  #toRestart(number: number): boolean {
    const from = this.#used();
    this.#restart();
    for (let at = from; at + 1 < this.#to; at++)
      if (this.#bytes[at] === 0xff && this.#bytes[at + 1]! >= 0xd0 && this.#bytes[at + 1]! <= 0xd7) {
        this.#at = at + 2;
        // What pads a stretch to whole bytes is no more than one.
        this.#skipped += Math.max(0, at - from - 1);
        return this.#bytes[at + 1] === 0xd0 + number;
      }
    return false;
  }

  #fill(): void {
    const bytes = this.#bytes;
    while (this.#count <= 16) {
      let byte = 0;
      if (this.#at < this.#to) {
        byte = bytes[this.#at]!;
        if (byte === 0xff) {
          // A stuffed nought belongs to it; any other mark ends the stretch.
          if (bytes[this.#at + 1] === 0) this.#at += 2;
          else byte = this.#pastEnd();
        } else this.#at++;
      } else byte = this.#pastEnd();
      this.#bits = ((this.#bits << 8) | byte) & 0x7fffffff;
      this.#count += 8;
    }
  }

  /** Decoders read noughts there; a few are looked at ahead and never used. */
  #pastEnd(): number {
    this.#behind += 8;
    return 0;
  }

  #take(n: number): number {
    if (n === 0) return 0;
    if (this.#count < n) this.#fill();
    this.#count -= n;
    if (this.#count < this.#behind) this.#missing = true;
    return (this.#bits >> this.#count) & ((1 << n) - 1);
  }

  #code(table: HuffmanTable): number {
    if (this.#count < LONGEST) this.#fill();
    const quick = table.quick[(this.#bits >> (this.#count - QUICK)) & ((1 << QUICK) - 1)]!;
    if (quick !== 0) {
      this.#count -= quick >> 8;
      if (this.#count < this.#behind) this.#missing = true;
      return quick & 255;
    }
    for (let length = QUICK + 1; length <= LONGEST; length++) {
      const code = (this.#bits >> (this.#count - length)) & ((1 << length) - 1);
      if (table.most[length]! >= code && code + table.shift[length]! >= 0) {
        this.#count -= length;
        if (this.#count < this.#behind) this.#missing = true;
        return table.values[code + table.shift[length]!]!;
      }
    }
    return NO_CODE;
  }

  /** One block of a baseline or extended scan. */
  #sequential({ dc, ac }: ScanPart): boolean {
    const size = this.#code(dc!);
    if (size < 0 || size > LONGEST) return false;
    this.#take(size);
    for (let k = 1; k < 64; k++) {
      const code = this.#code(ac!);
      if (code < 0) return false;
      const [run, bits] = [code >> 4, code & 15];
      if (bits === 0) {
        if (run < 15) break;
        k += 15;
        continue;
      }
      k += run;
      if (k > 63) return false;
      this.#take(bits);
    }
    return !this.#missing;
  }

  #presentOf(component: number): Uint32Array {
    return (this.#present[component] ??= new Uint32Array(this.#blocks[component]! * 2));
  }

  /** One block of a progressive scan: the first bits of a coefficient, or one bit more. */
  #progressive({ first, last, isRefined }: Scan, part: ScanPart, block: number): boolean {
    if (first === 0) {
      if (isRefined) {
        this.#take(1);
        return !this.#missing;
      }
      const size = this.#code(part.dc!);
      if (size < 0 || size > LONGEST) return false;
      this.#take(size);
      return !this.#missing;
    }
    const present = this.#presentOf(part.component);
    return isRefined
      ? this.#refine(first, last, part.ac!, present, block)
      : this.#firstBits(first, last, part.ac!, present, block);
  }

  #firstBits(first: number, last: number, ac: HuffmanTable, present: Uint32Array, block: number): boolean {
    if (this.#endOfBand > 0) {
      this.#endOfBand--;
      return true;
    }
    for (let k = first; k <= last; k++) {
      const code = this.#code(ac);
      if (code < 0) return false;
      const [run, bits] = [code >> 4, code & 15];
      if (bits === 0) {
        if (run < 15) {
          this.#endOfBand = (1 << run) - 1 + this.#take(run);
          break;
        }
        k += 15;
        continue;
      }
      k += run;
      if (k > last) return false;
      this.#take(bits);
      present[block * 2 + (k >> 5)]! |= 1 << (k & 31);
    }
    return !this.#missing;
  }

  #refine(first: number, last: number, ac: HuffmanTable, present: Uint32Array, block: number): boolean {
    const has = (k: number): boolean => ((present[block * 2 + (k >> 5)]! >>> (k & 31)) & 1) === 1;
    let k = first;
    if (this.#endOfBand === 0) {
      for (; k <= last; k++) {
        const code = this.#code(ac);
        if (code < 0) return false;
        let run = code >> 4;
        const bits = code & 15;
        if (bits === 0) {
          if (run < 15) {
            this.#endOfBand = (1 << run) + this.#take(run);
            break;
          }
        } else this.#take(1);
        // The run counts coefficients that are nought; those that are not have a bit each on the way.
        for (; k <= last; k++) {
          if (has(k)) this.#take(1);
          else if (run-- === 0) break;
        }
        if (bits !== 0) {
          if (k > last) return false;
          present[block * 2 + (k >> 5)]! |= 1 << (k & 31);
        }
        if (this.#missing) return false;
      }
    }
    if (this.#endOfBand > 0) {
      for (; k <= last; k++) if (has(k)) this.#take(1);
      this.#endOfBand--;
    }
    return !this.#missing;
  }
}
