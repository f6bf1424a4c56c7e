/**
 * Headers of OpenEXR 2.0 and 3.x files: one part or several, scan lines or tiles, flat or deep.
 *
 *     magic 20000630 (4) · version and flags (4)
 *     each part: attributes: name\0 type\0 size (4) value · \0      behind the last of several: \0
 */
import { fromLatin1, viewOf } from "./bytes";

/** First four bytes, little-endian. */
export const EXR_MAGIC = 20_000_630;
/** Bits of the second four. */
const TILED = 0x200,
  DEEP = 0x800,
  MULTI = 0x1000;

/** Codes of compressions. */
export const EXR_CODE = {
  none: 0,
  rle: 1,
  zips: 2,
  zip: 3,
  piz: 4,
  pxr24: 5,
  b44: 6,
  b44a: 7,
  dwaa: 8,
  dwab: 9,
} as const;
/** Scan lines in a block, by the compression's code. */
export const EXR_LINES: Readonly<Record<number, number>> = {
  [EXR_CODE.none]: 1,
  [EXR_CODE.rle]: 1,
  [EXR_CODE.zips]: 1,
  [EXR_CODE.zip]: 16,
  [EXR_CODE.piz]: 32,
  [EXR_CODE.pxr24]: 16,
  [EXR_CODE.b44]: 32,
  [EXR_CODE.b44a]: 32,
  [EXR_CODE.dwaa]: 32,
  [EXR_CODE.dwab]: 256,
};

/** By its magic number alone. */
export const isExr = (bytes: Uint8Array): boolean =>
  bytes.length >= 4 && viewOf(bytes).getInt32(0, true) === EXR_MAGIC;

/** Channels lie in alphabetical order, whatever order somebody asked for. */
export interface ExrChannel {
  readonly name: string;
  /** 0 whole numbers, 1 half, 2 float. */
  readonly type: number;
  /** One sample for so many pixels, each way. */
  readonly every: { readonly x: number; readonly y: number };
}

/** Both ends inclusive; coordinates may be below nought. */
export interface ExrWindow {
  readonly left: number;
  readonly top: number;
  readonly right: number;
  readonly bottom: number;
}

export interface ExrTiles {
  readonly width: number;
  readonly height: number;
  /** One level, levels that are halved each way at once, or each way on its own. */
  readonly levels: "one" | "mip" | "rip";
  readonly roundsUp: boolean;
}

export interface ExrPart {
  /** Blank where the file has only one. */
  readonly name: string;
  /** Its code; -1 where none is said. */
  readonly compression: number;
  readonly channels: readonly ExrChannel[];
  /** What is there. */
  readonly data: ExrWindow | null;
  /** What is shown. */
  readonly display: ExrWindow | null;
  /** Null: scan lines. */
  readonly tiles: ExrTiles | null;
  readonly isDeep: boolean;
  /** Frames a second, as the file says; null where it says none. */
  readonly rate: { readonly numerator: number; readonly denominator: number } | null;
  /** x and y of red, green, blue and white; null where the file says nothing of them. */
  readonly primaries: readonly number[] | null;
  /** Attributes of type string, by name. */
  readonly texts: ReadonlyMap<string, string>;
}

export interface ExrHeader {
  readonly parts: readonly ExrPart[];
  /** Chunks begin with the number of their part. */
  readonly isMulti: boolean;
  /** Where the offsets begin. */
  readonly end: number;
}

export const widthOf = ({ left, right }: ExrWindow): number => right - left + 1;
export const heightOf = ({ top, bottom }: ExrWindow): number => bottom - top + 1;

/** Bytes of one value. */
export const typeBytes = (type: number): number => (type === 1 ? 2 : 4);

/** Parts of a file: more than a few hundred are no picture. */
const MOST_PARTS = 10_000;

/** The header, or null where the file ends inside it. */
export function readExrHeader(bytes: Uint8Array): ExrHeader | null {
  if (bytes.length < 8) return null;
  const view = viewOf(bytes);
  const flags = view.getInt32(4, true);
  const isMulti = (flags & MULTI) !== 0;
  let at = 8;
  const text = (): string | null => {
    const end = bytes.indexOf(0, at);
    if (end < 0) return null;
    const value = fromLatin1(bytes.subarray(at, end));
    at = end + 1;
    return value;
  };
  const readPart = (): ExrPart | "end" | null => {
    let compression = -1;
    let channels: ExrChannel[] = [];
    let data: ExrWindow | null = null;
    let display: ExrWindow | null = null;
    let tiles: ExrTiles | null = null;
    let rate: ExrPart["rate"] = null;
    let primaries: ExrPart["primaries"] = null;
    let type = "";
    const texts = new Map<string, string>();
    for (let first = true; ; first = false) {
      const name = text();
      if (name === null) return null;
      // Behind the last part of several stands one that is empty.
      if (name === "" && first && isMulti) return "end";
      if (name === "") break;
      const kind = text();
      if (kind === null || at + 4 > bytes.length) return null;
      const size = view.getInt32(at, true);
      at += 4;
      if (size < 0 || at + size > bytes.length) return null;
      const value = bytes.subarray(at, at + size);
      const next = at + size;
      if (name === "compression") compression = value[0] ?? -1;
      else if ((name === "dataWindow" || name === "displayWindow") && size === 16) {
        const [left, top, right, bottom] = [0, 4, 8, 12].map((k) => view.getInt32(at + k, true)) as [
          number,
          number,
          number,
          number,
        ];
        if (name === "dataWindow") data = { left, top, right, bottom };
        else display = { left, top, right, bottom };
      } else if (name === "tiles" && size === 9) {
        const mode = value[8]!;
        tiles = {
          width: view.getUint32(at, true),
          height: view.getUint32(at + 4, true),
          levels: (mode & 15) === 1 ? "mip" : (mode & 15) === 2 ? "rip" : "one",
          roundsUp: mode >> 4 === 1,
        };
      } else if (name === "framesPerSecond" && kind === "rational" && size === 8) {
        rate = { numerator: view.getInt32(at, true), denominator: view.getUint32(at + 4, true) };
      } else if (name === "chromaticities" && size === 32) {
        primaries = Array.from({ length: 8 }, (_, i) => view.getFloat32(at + i * 4, true));
      } else if (kind === "string") {
        const said = fromLatin1(value);
        texts.set(name, said);
        if (name === "type") type = said;
      } else if (name === "channels") {
        channels = [];
        while (at < next - 1) {
          const channel = text();
          if (channel === null || at + 16 > next) return null;
          channels.push({
            name: channel,
            type: view.getInt32(at, true),
            every: { x: view.getInt32(at + 8, true), y: view.getInt32(at + 12, true) },
          });
          at += 16;
        }
      }
      at = next;
    }
    // Files of one part say by a flag what those of several say by a type.
    const isTiled = type === "" ? (flags & TILED) !== 0 : type === "tiledimage" || type === "deeptile";
    const isDeep = type === "" ? (flags & DEEP) !== 0 : type.startsWith("deep");
    const name = texts.get("name") ?? "";
    const tiling = isTiled ? tiles : null;
    return { name, compression, channels, data, display, tiles: tiling, isDeep, rate, primaries, texts };
  };
  const parts: ExrPart[] = [];
  do {
    const part = readPart();
    if (part === null || parts.length > MOST_PARTS) return null;
    if (part === "end") break;
    parts.push(part);
  } while (isMulti);
  return parts.length === 0 ? null : { parts, isMulti, end: at };
}

/** Header attributes of type string of the first part; none where the header cannot be read. */
export const readExrTexts = (bytes: Uint8Array): ReadonlyMap<string, string> =>
  (isExr(bytes) ? readExrHeader(bytes) : null)?.parts[0]?.texts ?? new Map<string, string>();
