/**
 * The measures of a picture that need every pixel, from rows that come from the top. The loops are WebAssembly
 * (`wasm/picture-rows.ts`): the same in plain TypeScript took five times as long, and longer than all that a file needs besides.
 * One picture is measured at a time: they share a memory, which lies so:
 *
 *     edges       where each block begins, and where the last ends; 32 bits each
 *     sums        red, green and blue of each block; 64-bit floats
 *     luminance   three rows; 32-bit floats
 *     scratch     a row
 *     candidates  a row of places
 *     values      the row as it is shown
 */
import { HotPixels } from "./hot-pixels";
import { grainDeviation } from "./measure";
import { PICTURE_ROWS_WASM } from "./picture-rows-wasm";
import type { ShownRow } from "./shown-rows";
import { edgesOf, gridOf, type Region, type Sketch } from "./sketch";

/** A hot pixel is so much brighter than the median of the nine around it, as shown. */
export const HOT_STEP = 0.3;

/** What red, green and blue weigh in luminance (Rec. 709); the loops have them, too. */
const WEIGHTS = [0.2126, 0.7152, 0.0722] as const;

type AddRow = (
  first: number,
  stride: number,
  green: number,
  blue: number,
  columns: number,
  edges: number,
  luminance: number,
  sums: number,
) => void;

interface Loops {
  readonly memory: WebAssembly.Memory;
  /** Of the picture so far, in pixels. */
  readonly black: WebAssembly.Global<"i32">;
  readonly clipped: WebAssembly.Global<"i32">;
  /** A luminance; sums of what others differ from it by, and of the squares of that. */
  readonly pivot: WebAssembly.Global<"f32">;
  readonly offsets: WebAssembly.Global<"f64">;
  readonly squares: WebAssembly.Global<"f64">;
  /** Of the row that was looked at. */
  readonly candidates: WebAssembly.Global<"i32">;
  readonly addBytes: AddRow;
  readonly addWords: AddRow;
  readonly addFloats: AddRow;
  readonly look: (
    above: number,
    row: number,
    below: number,
    width: number,
    hotStep: number,
    scratch: number,
    found: number,
  ) => number;
}

let loops: Loops | null = null;

function getLoops(): Loops {
  if (loops !== null) return loops;
  const code = Uint8Array.from(atob(PICTURE_ROWS_WASM), (letter) => letter.charCodeAt(0));
  loops = new WebAssembly.Instance(new WebAssembly.Module(code)).exports as unknown as Loops;
  return loops;
}

/** Of the first pixel of a row. */
const luminanceOf = ({ values, green, blue, white }: ShownRow): number =>
  [0, green, blue].reduce((sum, at, i) => sum + WEIGHTS[i]! * (values[at] ?? 0), 0) / white;

const WASM_PAGE_BYTES = 65_536;
/** Four pixels are read at a time: so much may be read behind the last. */
const BEHIND_BYTES = 16;

/** Hands out places in the memory, each fit for any number. */
function placesFrom(start: number): { take(bytes: number): number; readonly end: number } {
  let end = start;
  return {
    take(bytes) {
      const at = end;
      end = Math.ceil((end + bytes + BEHIND_BYTES) / 16) * 16;
      return at;
    },
    get end() {
      return end;
    },
  };
}

export interface RowMeasures {
  /** Mean luminance, 0 to 1. */
  readonly luminance: number;
  readonly spread: number;
  readonly noise: number;
  /** Pixels. */
  readonly black: number;
  readonly clipped: number;
  readonly hot: { readonly count: number; readonly region: Region | null };
  readonly sketch: Sketch;
}

/** @param rowAt rows as they are shown, asked for from the top, each once; all of one kind */
export function measureRows(width: number, height: number, rowAt: (y: number) => ShownRow): RowMeasures {
  const wasm = getLoops();
  const { columns, rows } = gridOf(width, height);
  const [xs, ys] = [edgesOf(width, columns), edgesOf(height, rows)];
  const places = placesFrom(0);
  const edges = places.take(xs.byteLength);
  const sums = places.take(columns * rows * 3 * Float64Array.BYTES_PER_ELEMENT);
  const rowBytes = width * Float32Array.BYTES_PER_ELEMENT;
  let [above, row, below] = [places.take(rowBytes), places.take(rowBytes), places.take(rowBytes)];
  const scratch = places.take(rowBytes);
  const found = places.take(rowBytes);
  const first = rowAt(0);
  const values = places.take(first.values.byteLength);
  const missing = places.end - wasm.memory.buffer.byteLength;
  if (missing > 0) wasm.memory.grow(Math.ceil(missing / WASM_PAGE_BYTES));

  const { buffer } = wasm.memory;
  new Int32Array(buffer, edges, xs.length).set(xs);
  const sumsOfBlocks = new Float64Array(buffer, sums, columns * rows * 3).fill(0);
  wasm.black.value = 0;
  wasm.clipped.value = 0;
  wasm.pivot.value = luminanceOf(first);
  wasm.offsets.value = 0;
  wasm.squares.value = 0;
  const bytes = new Uint8Array(buffer);
  const hot = new HotPixels(HOT_STEP);
  const luminanceAt = (at: number): Float32Array => new Float32Array(buffer, at, width);
  const add =
    first.values instanceof Float32Array
      ? wasm.addFloats
      : first.values instanceof Uint16Array
        ? wasm.addWords
        : wasm.addBytes;
  let [grain, block] = [0, 0];
  for (let y = 0; y < height; y++) {
    [above, row, below] = [row, below, above];
    const shown = y === 0 ? first : rowAt(y);
    const { buffer: from, byteOffset, byteLength } = shown.values;
    bytes.set(new Uint8Array(from, byteOffset, byteLength), values);
    while (y >= ys[block + 1]!) block++;
    const blocks = sums + block * columns * 3 * Float64Array.BYTES_PER_ELEMENT;
    add(values, shown.stride, shown.green, shown.blue, columns, edges, below, blocks);
    if (y < 2) continue;
    grain += wasm.look(above, row, below, width, HOT_STEP, scratch, found);
    if (wasm.candidates.value > 0) {
      const candidates = new Int32Array(buffer, found, wasm.candidates.value);
      hot.look(y - 1, candidates, luminanceAt(above), luminanceAt(row), luminanceAt(below));
    }
  }

  const count = Math.max(1, width * height);
  const mean = sumsOfBlocks.reduce((sum, value, i) => sum + WEIGHTS[i % 3]! * value, 0) / first.white / count;
  const sketch = new Uint16Array(sumsOfBlocks.length);
  for (let i = 0; i < sketch.length; i++) {
    const [x, y] = [Math.floor(i / 3) % columns, Math.floor(i / 3 / columns)];
    const area = Math.max(1, (xs[x + 1]! - xs[x]!) * (ys[y + 1]! - ys[y]!));
    sketch[i] = Math.round((sumsOfBlocks[i]! / first.white / area) * 65_535);
  }
  return {
    luminance: mean,
    spread: Math.sqrt(Math.max(0, wasm.squares.value / count - (wasm.offsets.value / count) ** 2)),
    noise: grainDeviation(grain, width, height),
    black: wasm.black.value,
    clipped: wasm.clipped.value,
    hot: hot.found(),
    sketch: { columns, rows, values: sketch },
  };
}
