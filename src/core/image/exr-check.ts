/**
 * Is an OpenEXR file whole? Headers of every part; the offsets of every block (of lines, or a tile of a level), each
 * inside the file, at its place and of a size that it can have; of each compression what can be seen without
 * unpacking. Deep: blocks of run lengths, zlib, PXR24, PIZ and DWA unpack to their length.
 */
import { viewOf } from "./bytes";
import { expandRuns } from "./exr";
import { givesNumbers } from "./exr-huffman";
import {
  EXR_CODE,
  EXR_LINES,
  type ExrChannel,
  type ExrHeader,
  type ExrPart,
  type ExrWindow,
  heightOf,
  isExr,
  readExrHeader,
  typeBytes,
  widthOf,
} from "./exr-header";
import { beginsAsZlib, type Inflate, unpacksTo } from "./inflate";
import {
  cutShort,
  damaged,
  type FileVerdict,
  goodVerdict,
  percent,
  type Shape,
  unsupported,
} from "./verdict";

/** Files with hundreds of passes have a few thousand; each block is asked about each of them. */
const MOST_CHANNELS = 4_096;
/** Sides beyond that are no picture: numbers of blocks stay exact. */
const LONGEST_SIDE = 1 << 24;

/** A block as the offsets have it: where in the picture, and how much is in it. */
interface Block {
  /** First line, or tile and level: what its header must say. */
  readonly says: readonly number[];
  readonly area: ExrWindow;
}

/** Halved so often, rounded as the file says. */
const levelSize = (side: number, level: number, roundsUp: boolean): number => {
  const by = 2 ** level;
  return Math.max(1, roundsUp ? Math.ceil(side / by) : Math.floor(side / by));
};

function levelsOf(side: number, roundsUp: boolean): number {
  let levels = 1;
  for (let left = side; left > 1; left = roundsUp ? Math.ceil(left / 2) : left >> 1) levels++;
  return levels;
}

/** Levels in the order of the offsets, with their size. */
function* levels(
  part: ExrPart,
  data: ExrWindow,
): Generator<{ x: number; y: number; width: number; height: number }> {
  const { tiles } = part;
  const [width, height] = [widthOf(data), heightOf(data)];
  if (tiles === null || tiles.levels === "one") return yield { x: 0, y: 0, width, height };
  const up = tiles.roundsUp;
  const size = (x: number, y: number) => ({
    ...{ x, y },
    ...{ width: levelSize(width, x, up), height: levelSize(height, y, up) },
  });
  if (tiles.levels === "mip") {
    const n = levelsOf(Math.max(width, height), up);
    for (let level = 0; level < n; level++) yield size(level, level);
    return;
  }
  const [across, down] = [levelsOf(width, up), levelsOf(height, up)];
  for (let y = 0; y < down; y++) for (let x = 0; x < across; x++) yield size(x, y);
}

/** Blocks of a part, in the order of its offsets. */
function* blocksOf(part: ExrPart, data: ExrWindow): Generator<Block> {
  const { tiles } = part;
  if (tiles === null) {
    const lines = EXR_LINES[part.compression]!;
    for (let top = data.top; top <= data.bottom; top += lines)
      yield { says: [top], area: { ...data, top, bottom: Math.min(data.bottom, top + lines - 1) } };
    return;
  }
  for (const level of levels(part, data)) {
    const across = Math.ceil(level.width / tiles.width);
    const down = Math.ceil(level.height / tiles.height);
    for (let y = 0; y < down; y++)
      for (let x = 0; x < across; x++) {
        const [left, top] = [data.left + x * tiles.width, data.top + y * tiles.height];
        yield {
          says: [x, y, level.x, level.y],
          area: {
            ...{ left, top },
            right: Math.min(data.left + level.width - 1, left + tiles.width - 1),
            bottom: Math.min(data.top + level.height - 1, top + tiles.height - 1),
          },
        };
      }
  }
}

function countOf(part: ExrPart, data: ExrWindow): number {
  const { tiles } = part;
  if (tiles === null) return Math.ceil(heightOf(data) / EXR_LINES[part.compression]!);
  let count = 0;
  for (const { width, height } of levels(part, data))
    count += Math.ceil(width / tiles.width) * Math.ceil(height / tiles.height);
  return count;
}

/** Samples from one coordinate to another, both inclusive, where every n-th has one. */
const samplesIn = (from: number, to: number, every: number): number =>
  Math.floor(to / every) - Math.ceil(from / every) + 1;

/** Of a channel in an area. */
const samplesOf = ({ every }: ExrChannel, { left, right, top, bottom }: ExrWindow): number =>
  Math.max(0, samplesIn(left, right, every.x)) * Math.max(0, samplesIn(top, bottom, every.y));

/** Bytes of an area before compression. */
const rawBytes = (channels: readonly ExrChannel[], area: ExrWindow): number =>
  channels.reduce((sum, c) => sum + samplesOf(c, area) * typeBytes(c.type), 0);

/** PXR24 keeps three of four bytes of a float. */
const pxr24Bytes = (channels: readonly ExrChannel[], area: ExrWindow): number =>
  channels.reduce((sum, c) => sum + samplesOf(c, area) * (c.type === 1 ? 2 : c.type === 2 ? 3 : 4), 0);

/**
 * PIZ (ImfPizCompressor): the range of a table, the table, and a stream that gives every half of the block.
 * @param inflate null: only the lengths are held against one another
 */
function isPiz(bytes: Uint8Array, raw: number, inflate: Inflate | null): boolean {
  if (bytes.length < 4) return false;
  const view = viewOf(bytes);
  const [least, most] = [view.getUint16(0, true), view.getUint16(2, true)];
  const at = 4 + (least <= most ? most - least + 1 : 0);
  if (most >= 8_192 || at + 4 > bytes.length || view.getInt32(at, true) !== bytes.length - at - 4)
    return false;
  return inflate === null || givesNumbers(bytes.subarray(at + 4), raw / 2);
}

/** Of eleven lengths of eight bytes, and the channels that a second version describes behind them. */
const DWA_HEADER = 88;

/** DWA (ImfDwaCompressor): what is packed plainly, coefficients, means of blocks and run lengths, one behind the other. */
function isDwa(bytes: Uint8Array, inflate: Inflate | null): boolean {
  if (bytes.length < DWA_HEADER + 2) return false;
  const view = viewOf(bytes);
  const number = (i: number): number => Number(view.getBigUint64(i * 8, true));
  const [version, plainRaw, plain, ac, dc, runs, runsRaw] = [0, 1, 2, 3, 4, 5, 6].map(number) as [
    ...[number, number, number, number, number, number, number],
  ];
  const [acCount, dcCount, acKind] = [number(8), number(9), number(10)];
  let at = DWA_HEADER + (version >= 2 ? view.getUint16(DWA_HEADER, true) : 0);
  if (version > 2 || at + plain + ac + dc + runs > bytes.length) return false;
  if (inflate === null) return true;
  const part = (size: number): Uint8Array => bytes.subarray(at, (at += size));
  const unpacks = (packed: Uint8Array, length: number): boolean => unpacksTo(packed, length, inflate);
  return (
    unpacks(part(plain), plainRaw) &&
    (acKind === 0 ? givesNumbers(part(ac), acCount) : unpacks(part(ac), acCount * 2)) &&
    unpacks(part(dc), dcCount * 2) &&
    unpacks(part(runs), runsRaw)
  );
}

/** B44: channels of half in blocks of 4 x 4, of 14 bytes or (B44A, flat ones) 3; others as they are. */
function isB44(bytes: Uint8Array, channels: readonly ExrChannel[], area: ExrWindow): boolean {
  let at = 0;
  for (const channel of channels) {
    if (channel.type !== 1) {
      at += samplesOf(channel, area) * typeBytes(channel.type);
      continue;
    }
    const across = Math.ceil(Math.max(0, samplesIn(area.left, area.right, channel.every.x)) / 4);
    const down = Math.ceil(Math.max(0, samplesIn(area.top, area.bottom, channel.every.y)) / 4);
    for (let i = 0; i < across * down; i++) {
      if (at + 3 > bytes.length) return false;
      // Flat blocks have a shift that no others have.
      at += bytes[at + 2]! >= 13 << 2 ? 3 : 14;
    }
  }
  return at === bytes.length;
}

/** Why a block cannot be unpacked; null where nothing speaks against it. */
function blockFault(
  { compression, channels }: ExrPart,
  area: ExrWindow,
  bytes: Uint8Array,
  inflate: Inflate | null,
): string | null {
  const raw = rawBytes(channels, area);
  // One that would not become smaller is kept as it is: its size says so.
  if (bytes.length === raw) return null;
  if (compression === EXR_CODE.none || bytes.length > raw) return "has a size that it cannot have";
  const unpacks = (length: number): boolean => inflate === null || unpacksTo(bytes, length, inflate);
  const is = ((): boolean => {
    switch (compression) {
      case EXR_CODE.rle:
        return inflate === null || expandRuns(bytes, raw) !== null;
      case EXR_CODE.zips:
      case EXR_CODE.zip:
        return beginsAsZlib(bytes) && unpacks(raw);
      case EXR_CODE.pxr24:
        return beginsAsZlib(bytes) && unpacks(pxr24Bytes(channels, area));
      case EXR_CODE.piz:
        return isPiz(bytes, raw, inflate);
      case EXR_CODE.dwaa:
      case EXR_CODE.dwab:
        return isDwa(bytes, inflate);
      default:
        return isB44(bytes, channels, area);
    }
  })();
  return is ? null : "does not unpack";
}

/** What a part's header is judged by alone; null where nothing speaks against it. */
function partFault({ data, channels, tiles, compression }: ExrPart): FileVerdict | null {
  const broken = (why: string): FileVerdict => damaged("exr", "corrupt", why);
  if (data === null || channels.length === 0) return broken("the header does not fit together");
  if (channels.length > MOST_CHANNELS) return broken(`it names ${channels.length} channels`);
  const [width, height] = [widthOf(data), heightOf(data)];
  if (width < 1 || height < 1 || width > LONGEST_SIDE || height > LONGEST_SIDE)
    return broken(`the picture says it is ${width} x ${height}`);
  if (tiles !== null && (tiles.width < 1 || tiles.height < 1)) return broken("its tiles have no size");
  if (channels.some((c) => c.type < 0 || c.type > 2 || c.every.x < 1 || c.every.y < 1))
    return broken("a channel is of a type that does not exist");
  return compression in EXR_LINES
    ? null
    : unsupported("exr", `its compression, ${compression}, is not known`);
}

const shapeOf = ({ channels, data, display }: ExrPart): Shape => {
  const shown = display !== null && widthOf(display) > 0 && heightOf(display) > 0 ? display : data!;
  return {
    width: widthOf(shown),
    height: heightOf(shown),
    channels: channels.length,
    bitDepth: typeBytes(channels[0]!.type) * 8,
  };
};

/** What is told of windows and parts that a picture of the usual kind does not have. */
function notesOf({ parts }: ExrHeader): string[] {
  const { data, display, isDeep, tiles } = parts[0]!;
  const isOther =
    display !== null &&
    (["left", "top", "right", "bottom"] as const).some((side) => display[side] !== data![side]);
  return [
    ...(isOther
      ? [
          `its data is ${widthOf(data!)} x ${heightOf(data!)} from ${data!.left}, ${data!.top}; it shows ${widthOf(display)} x ${heightOf(display)} from ${display.left}, ${display.top}`,
        ]
      : []),
    ...(parts.length > 1 ? [`${parts.length} parts are in it`] : []),
    ...(tiles !== null && tiles.levels !== "one" ? ["it has smaller levels"] : []),
    ...(isDeep ? ["its pixels are deep"] : []),
  ];
}

/** @param deep also unpacks what can be unpacked here */
export function checkExr(bytes: Uint8Array, inflate: Inflate, deep = false): FileVerdict {
  if (bytes.length === 0) return damaged("exr", "empty", "the file is empty");
  if (!isExr(bytes))
    return bytes.length < 4
      ? damaged("exr", "truncated", `only ${bytes.length} bytes are there`)
      : damaged("exr", "not-an-image", "the file does not begin like an OpenEXR picture");
  const header = readExrHeader(bytes);
  if (header === null)
    return damaged("exr", "truncated", `cut short after ${bytes.length} bytes, before the header ends`);
  for (const part of header.parts) {
    const fault = partFault(part);
    if (fault !== null) return fault;
  }
  return checkBlocks(bytes, header, deep ? inflate : null);
}

function checkBlocks(bytes: Uint8Array, header: ExrHeader, inflate: Inflate | null): FileVerdict {
  const { parts, isMulti } = header;
  const view = viewOf(bytes);
  const shape = shapeOf(parts[0]!);
  const counts = parts.map((part) => countOf(part, part.data!));
  const all = counts.reduce((sum, n) => sum + n, 0);
  const tableEnd = header.end + all * 8;
  // Where not even the offsets fit in, nothing is gone through that somebody only claims.
  if (tableEnd > bytes.length) return cutShort("exr", bytes.length, shape, 0);
  let table = header.end;
  let there = 0;
  let taken = tableEnd;
  let fault: FileVerdict | null = null;
  for (const [number, part] of parts.entries()) {
    const from = table;
    let i = 0;
    for (const { says, area } of blocksOf(part, part.data!)) {
      const offset = Number(view.getBigUint64(from + i++ * 8, true));
      const numbers = isMulti ? [number, ...says] : says;
      const at = offset + numbers.length * 4;
      const head = at + (part.isDeep ? 24 : 4);
      // What was never written has no place yet; what is cut off leads out of the file.
      if (offset < tableEnd || head > bytes.length) continue;
      const size = part.isDeep
        ? Number(view.getBigUint64(at, true)) + Number(view.getBigUint64(at + 8, true))
        : view.getInt32(at, true);
      // Blocks that lie over one another would be unpacked again and again.
      taken += head - offset + Math.max(0, head + size > bytes.length ? 0 : size);
      if (taken > bytes.length)
        return damaged("exr", "corrupt", "its blocks lie over one another", shape, there / all);
      const isPlaced = numbers.every((n, k) => view.getInt32(offset + k * 4, true) === n);
      const why = !isPlaced
        ? "is not where it must be"
        : size < (part.isDeep ? 0 : 1)
          ? "has a size that it cannot have"
          : head + size > bytes.length
            ? "cut"
            : part.isDeep
              ? null
              : blockFault(part, area, bytes.subarray(head, head + size), inflate);
      if (why === "cut") continue;
      if (why === null) there++;
      else
        fault ??= damaged(
          "exr",
          "corrupt",
          `block ${i} of ${counts[number]}${parts.length > 1 ? ` of part ${number + 1}` : ""} ${why}; ${percent(there / all)} of the picture stands before it`,
          shape,
          there / all,
        );
    }
    table += counts[number]! * 8;
  }
  if (fault !== null) return fault;
  return there < all
    ? cutShort("exr", bytes.length, shape, there / all)
    : goodVerdict("exr", shape, notesOf(header));
}
