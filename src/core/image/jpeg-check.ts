/**
 * Is a JPEG file whole (ITU T.81)? Markers and their lengths, sizes, tables, scans, the end mark; and in scans of
 * Huffman codes every block of the picture is walked through, without making colours of it: that tells how many lines
 * are there, and whether the codes and the picture end together. Arithmetic and lossless scans are judged by their
 * frame alone.
 */
import { viewOf } from "./bytes";
import { HuffmanTable, ScanReader } from "./jpeg-scan";
import { isJpeg } from "./jpeg";
import { cutShort, damaged, type FileVerdict, goodVerdict, type Shape, trailing } from "./verdict";

const SOI = 0xd8,
  EOI = 0xd9,
  SOS = 0xda,
  DNL = 0xdc,
  DRI = 0xdd,
  DHT = 0xc4,
  TEM = 0x01;
const isRestart = (marker: number): boolean => marker >= 0xd0 && marker <= 0xd7;
/** Start of frame: every process, without the tables that share the range. */
const isFrameHeader = (marker: number): boolean =>
  marker >= 0xc0 && marker <= 0xcf && ![DHT, 0xc8, 0xcc].includes(marker);
/** Processes whose blocks are walked through: baseline, extended, progressive. */
const isWalked = (frame: number): boolean => frame >= 0xc0 && frame <= 0xc2;
const PROGRESSIVE = 0xc2;

/**
 * What may be left of a scan when the picture is complete: writers pad, and junk in front of a marker is skipped by
 * every decoder. More than that share of a scan has lost its way.
 */
const SPARE_BYTES = 64,
  SPARE_SHARE = 0.02;
/**
 * Blocks that are walked through, over all scans of a file: forty times what a progressive picture of 8K has. One code
 * can stand for thousands of blocks, so that the length of a file bounds nothing.
 */
const MOST_BLOCKS = 1 << 26;
/** Of a progressive picture: a bit is kept for each of their coefficients, 64 MB in all. */
const MOST_KEPT = 1 << 23;

interface Component {
  readonly id: number;
  /** Sampling factors. */
  readonly h: number;
  readonly v: number;
  /** Blocks of the component, and of a whole number of its units. */
  readonly blocksWide: number;
  readonly blocksHigh: number;
  readonly stride: number;
}

interface Frame {
  readonly marker: number;
  readonly shape: Shape;
  readonly components: readonly Component[];
  readonly unitsWide: number;
  readonly unitsHigh: number;
}

/** Null where it does not fit together. */
function readFrame(marker: number, data: Uint8Array, lines: number | null): Frame | null {
  if (data.length < 6) return null;
  const view = viewOf(data);
  const [bitDepth, height, width, channels] = [
    data[0]!,
    view.getUint16(1) || (lines ?? 0),
    view.getUint16(3),
    data[5]!,
  ];
  if (channels < 1 || channels > 4 || data.length < 6 + channels * 3 || width < 1) return null;
  const raw = Array.from({ length: channels }, (_, i) => {
    const at = 6 + i * 3;
    return { id: data[at]!, h: data[at + 1]! >> 4, v: data[at + 1]! & 15 };
  });
  if (raw.some(({ h, v }) => h < 1 || h > 4 || v < 1 || v > 4)) return null;
  const maxH = raw.reduce((most, { h }) => Math.max(most, h), 1);
  const maxV = raw.reduce((most, { v }) => Math.max(most, v), 1);
  const unitsWide = Math.ceil(width / (8 * maxH));
  const unitsHigh = Math.ceil(height / (8 * maxV));
  return {
    marker,
    shape: { width, height, bitDepth, channels },
    components: raw.map((c) => ({
      ...c,
      blocksWide: Math.ceil((width * c.h) / maxH / 8),
      blocksHigh: Math.ceil((height * c.v) / maxV / 8),
      stride: unitsWide * c.h,
    })),
    unitsWide,
    unitsHigh,
  };
}

/** Where the coded picture that begins at `from` ends: at the next marker that is none of its own. */
function scanEnd(bytes: Uint8Array, from: number): number {
  for (let at = from; ;) {
    at = bytes.indexOf(0xff, at);
    if (at < 0 || at + 1 >= bytes.length) return bytes.length;
    const next = bytes[at + 1]!;
    if (next === 0 || isRestart(next)) at += 2;
    else if (next !== 0xff) return at;
    else {
      // Some writers fill up with such bytes before a marker: they are none of the scan's.
      let behind = at + 1;
      while (bytes[behind] === 0xff) behind++;
      const marker = bytes[behind];
      if (marker !== undefined && marker !== 0 && !isRestart(marker)) return at;
      at = behind;
    }
  }
}

/** What has been read so far, and what was odd about it. */
interface State {
  frame: Frame | null;
  restartEvery: number;
  readonly dc: (HuffmanTable | null)[];
  readonly ac: (HuffmanTable | null)[];
  scans: number;
  /** Blocks that were walked through. */
  walked: number;
  /** Share of the lines that the first scan, or the only one, gives; null where its codes cannot be followed. */
  share: number | null;
  readonly notes: Set<string>;
  reader: ScanReader | null;
}

function readTables(data: Uint8Array, state: State): boolean {
  for (let at = 0; at < data.length;) {
    if (at + 17 > data.length) return false;
    const [kind, id] = [data[at]! >> 4, data[at]! & 15];
    const counts = data.subarray(at + 1, at + 17);
    const total = counts.reduce((sum, n) => sum + n, 0);
    if (kind > 1 || id > 3 || total > 256 || at + 17 + total > data.length) return false;
    const table = HuffmanTable.of(counts, data.subarray(at + 17, at + 17 + total));
    if (table === null) return false;
    (kind === 0 ? state.dc : state.ac)[id] = table;
    at += 17 + total;
  }
  return true;
}

/** Walks through one scan. @returns why it is damaged; null where nothing speaks against it */
function walkScan(
  bytes: Uint8Array,
  head: Uint8Array,
  from: number,
  to: number,
  state: State,
): string | null {
  const frame = state.frame!;
  const n = head[0] ?? 0;
  if (n < 1 || n > 4 || head.length < 4 + n * 2) return "the header of a scan does not fit together";
  const parts = Array.from({ length: n }, (_, i) => ({
    component: frame.components.findIndex((c) => c.id === head[1 + i * 2]),
    dc: head[2 + i * 2]! >> 4,
    ac: head[2 + i * 2]! & 15,
  }));
  if (parts.some(({ component }) => component < 0)) return "a scan names a channel that is not there";
  if (!isWalked(frame.marker)) {
    state.share = null;
    return null;
  }
  const [first, last, bits] = [head[1 + n * 2]!, head[2 + n * 2]!, head[3 + n * 2]!];
  const isProgressive = frame.marker === PROGRESSIVE;
  if (isProgressive && (first > last || last > 63)) return "a scan has no such coefficients";
  const needsDc = !isProgressive || (first === 0 && bits >> 4 === 0);
  const needsAc = !isProgressive || last > 0;
  // Files of motion pictures leave out the tables that everybody has: they cannot be walked, and are read all the same.
  if (
    parts.some(
      ({ dc, ac }) => (needsDc && state.dc[dc & 3] === null) || (needsAc && state.ac[ac & 3] === null),
    )
  ) {
    state.notes.add("the tables of its codes are left out");
    state.share = null;
    return null;
  }
  const blocks = frame.components.map((c) => c.stride * frame.unitsHigh * c.v);
  const all = blocks.reduce((sum, count) => sum + count, 0);
  state.walked += all;
  if (state.walked > MOST_BLOCKS || (isProgressive && all > MOST_KEPT)) {
    state.notes.add("too large for its codes to be looked at");
    state.share = null;
    return null;
  }
  state.reader ??= new ScanReader(blocks);
  const single = n === 1 ? frame.components[parts[0]!.component]! : null;
  const wide = single === null ? frame.unitsWide : single.blocksWide;
  const high = single === null ? frame.unitsHigh : single.blocksHigh;
  const result = state.reader.walk({
    bytes,
    from,
    to,
    units: wide * high,
    restartEvery: state.restartEvery,
    isProgressive,
    first,
    last,
    high: bits >> 4,
    isRefined: bits >> 4 > 0,
    parts: parts.map(({ component, dc, ac }) => {
      const { h, v, stride } = frame.components[component]!;
      return {
        component,
        dc: state.dc[dc & 3] ?? null,
        ac: state.ac[ac & 3] ?? null,
        // Alone in a scan a channel is coded block by block, without what fills up a unit.
        blocks: single === null ? h * v : 1,
        place: (unit: number, k: number): number =>
          single === null
            ? (Math.floor(unit / wide) * v + Math.floor(k / h)) * stride + (unit % wide) * h + (k % h)
            : Math.floor(unit / wide) * stride + (unit % wide),
      };
    }),
  });
  const whole = wide * high;
  const rows = Math.floor(result.units / wide);
  if (state.scans === 0) state.share = result.units === whole ? 1 : rows / high;
  if (result.units < whole)
    return `the codes of scan ${state.scans + 1} end after ${rows} of ${high} rows of blocks`;
  const { spare } = result;
  if (spare > Math.max(SPARE_BYTES, (to - from) * SPARE_SHARE))
    return `scan ${state.scans + 1} has ${spare} bytes more than its picture`;
  if (spare > 1) state.notes.add("junk between its segments");
  return null;
}

/** Markers, tables and scans in their order, up to the end mark. */
export function checkJpeg(bytes: Uint8Array): FileVerdict {
  if (bytes.length === 0) return damaged("jpeg", "empty", "the file is empty");
  if (!isJpeg(bytes))
    return bytes.length < 3 && bytes[0] === 0xff && (bytes.length < 2 || bytes[1] === SOI)
      ? damaged("jpeg", "truncated", `only ${bytes.length} bytes are there`)
      : damaged("jpeg", "not-an-image", "the file does not begin like a JPEG");
  const view = viewOf(bytes);
  const state: State = {
    frame: null,
    restartEvery: 0,
    dc: [null, null, null, null],
    ac: [null, null, null, null],
    scans: 0,
    walked: 0,
    share: 0,
    notes: new Set(),
    reader: null,
  };
  const fault = (why: string): FileVerdict =>
    damaged("jpeg", "corrupt", why, state.frame?.shape ?? null, state.frame === null ? null : state.share);
  const cut = (): FileVerdict => {
    const { frame, share, scans } = state;
    const after = `cut short after ${bytes.length} bytes`;
    if (frame === null) return damaged("jpeg", "truncated", `${after}, before the picture begins`);
    if (share !== null && share < 1) return cutShort("jpeg", bytes.length, frame.shape, share);
    // All lines are there, some more coarsely than their writer meant: how much is missing cannot be told.
    const where = share === null ? after : `${after}, behind ${scans} of its scans`;
    return damaged("jpeg", "truncated", where, frame.shape);
  };
  for (let at = 2; ;) {
    const marked = bytes.indexOf(0xff, at);
    if (marked < 0 || marked + 1 >= bytes.length) return cut();
    if (marked > at) state.notes.add("junk between its segments");
    const marker = bytes[marked + 1]!;
    at = marked + 1;
    if (marker === 0xff) continue;
    at++;
    if (marker === 0 || marker === TEM || isRestart(marker) || marker === SOI) {
      state.notes.add("junk between its segments");
      continue;
    }
    if (marker === EOI) {
      if (state.scans === 0) return fault("it ends before a picture");
      for (const note of trailing(bytes.length, at)) state.notes.add(note);
      break;
    }
    if (at + 2 > bytes.length) return cut();
    const end = at + view.getUint16(at);
    if (end < at + 2) return fault(`a segment at byte ${at} has no length`);
    if (end > bytes.length) return cut();
    const data = bytes.subarray(at + 2, end);
    at = end;
    if (isFrameHeader(marker)) {
      if (state.frame !== null) return fault("there are two headers of a frame");
      state.frame = readFrame(marker, data, linesBehind(bytes, end));
      if (state.frame === null) return fault("the header of the frame does not fit together");
      const { shape } = state.frame;
      if (shape.height < 1) return fault(`the picture says it is ${shape.width} x ${shape.height}`);
    } else if (marker === DHT) {
      if (!readTables(data, state)) return fault("a table of codes does not fit together");
    } else if (marker === DRI) state.restartEvery = data.length < 2 ? 0 : viewOf(data).getUint16(0);
    else if (marker === SOS) {
      if (state.frame === null) return fault("a scan comes before its frame");
      const to = scanEnd(bytes, end);
      const why = walkScan(bytes, data, end, to, state);
      if (why !== null) return to >= bytes.length ? cut() : fault(why);
      state.scans++;
      at = to;
    }
  }
  return goodVerdict("jpeg", state.frame!.shape, [...state.notes]);
}

/** Lines of a frame that leaves them open: they are told behind the first scan. */
function linesBehind(bytes: Uint8Array, from: number): number | null {
  for (let at = from; ;) {
    at = bytes.indexOf(0xff, at);
    if (at < 0 || at + 6 > bytes.length) return null;
    if (bytes[at + 1] === DNL && bytes[at + 2] === 0 && bytes[at + 3] === 4)
      return viewOf(bytes).getUint16(at + 4);
    at += 2;
  }
}
