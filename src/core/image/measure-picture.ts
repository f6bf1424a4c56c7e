/**
 * All measures of a picture that are kept, in one go over its pixels as they are shown (scene light through the
 * curve of displays), so that they mean the same for every format.
 */
import { HotPixels } from "./hot-pixels";
import { grainDeviation, grainOfRow, type LuminanceRow } from "./measure";
import { pixelSum } from "./pixel-sum";
import { type FloatImage, hasAlpha, type IntegerImage } from "./pixels";
import { type ShownRow, shownRows, unit } from "./shown-rows";
import { edgesOf, gridOf, type Region, type Sketch } from "./sketch";

export interface Measures {
  /** Mean luminance (Rec. 709), 0 to 1. */
  readonly luminance: number;
  /** Standard deviation of luminance, 0 to 1. */
  readonly spread: number;
  /** Standard deviation of the grain, as a share of white. */
  readonly noise: number;
  /** Share of pixels whose colours are all 0. */
  readonly black: number;
  /** Share of pixels with a colour at white or beyond. */
  readonly clipped: number;
  /** Single pixels far above what surrounds them. */
  readonly hot: number;
  /** Pixels with a value that is no number, or infinite. */
  readonly nan: number;
  /** Mean of alpha, 0 to 1; null where there is none. */
  readonly alpha: number | null;
}

export interface MeasuredPicture {
  readonly width: number;
  readonly height: number;
  readonly measures: Measures;
  readonly sketch: Sketch;
  /** What the hot pixels lie in; null where there are none. */
  readonly hotRegion: Region | null;
  /** Equal for equal pixels, and as good as never for others: 64 bits, hexadecimal. */
  readonly pixels: string;
}

/** What red, green and blue weigh in luminance (Rec. 709). */
const WEIGHTS = [0.2126, 0.7152, 0.0722] as const;

/** Sums over a picture, and over its blocks, from rows that come from the top. */
class PictureSums {
  /** Pixels. */
  black = 0;
  clipped = 0;
  /** Of luminance. */
  squares = 0;
  readonly #columns: number;
  readonly #rows: number;
  readonly #xs: Int32Array;
  readonly #ys: Int32Array;
  readonly #sums: Float64Array;
  #row = 0;

  constructor(width: number, height: number) {
    const { columns, rows } = gridOf(width, height);
    [this.#columns, this.#rows] = [columns, rows];
    [this.#xs, this.#ys] = [edgesOf(width, columns), edgesOf(height, rows)];
    this.#sums = new Float64Array(columns * rows * 3);
  }

  /** @param luminance is filled: of each pixel, Rec. 709 weights on what is shown */
  add(y: number, { values, stride, green, blue, white }: ShownRow, luminance: LuminanceRow): void {
    while (y >= this.#ys[this.#row + 1]!) this.#row++;
    const [weightOfRed, weightOfGreen, weightOfBlue] = WEIGHTS.map((weight) => weight / white) as [
      number,
      number,
      number,
    ];
    // Plain locals: this loop sees every pixel of every frame.
    let black = 0;
    let clipped = 0;
    let squares = 0;
    for (let column = 0; column < this.#columns; column++) {
      const end = this.#xs[column + 1]!;
      let reds = 0;
      let greens = 0;
      let blues = 0;
      for (let x = this.#xs[column]!, i = x * stride; x < end; x++, i += stride) {
        const r = values[i]!;
        const g = values[i + green]!;
        const b = values[i + blue]!;
        reds += r;
        greens += g;
        blues += b;
        if (r === white || g === white || b === white) clipped++;
        else if (r + g + b === 0) black++;
        const l = weightOfRed * r + weightOfGreen * g + weightOfBlue * b;
        luminance[x] = l;
        squares += l * l;
      }
      const at = (this.#row * this.#columns + column) * 3;
      this.#sums[at]! += reds / white;
      this.#sums[at + 1]! += greens / white;
      this.#sums[at + 2]! += blues / white;
    }
    this.black += black;
    this.clipped += clipped;
    this.squares += squares;
  }

  /** Of luminance. */
  get sum(): number {
    return this.#sums.reduce((sum, value, i) => sum + WEIGHTS[i % 3]! * value, 0);
  }

  sketch(): Sketch {
    const [columns, rows, xs, ys] = [this.#columns, this.#rows, this.#xs, this.#ys];
    const values = new Uint16Array(this.#sums.length);
    for (let block = 0; block < columns * rows; block++) {
      const [x, y] = [block % columns, Math.floor(block / columns)];
      const area = Math.max(1, (xs[x + 1]! - xs[x]!) * (ys[y + 1]! - ys[y]!));
      for (let c = 0; c < 3; c++)
        values[block * 3 + c] = Math.round((this.#sums[block * 3 + c]! / area) * 65_535);
    }
    return { columns, rows, values };
  }
}

/** Mean of alpha, 0 to 1; null where there is none. */
function alphaOf({ channels, data, ...image }: FloatImage | IntegerImage): number | null {
  if (!hasAlpha(channels)) return null;
  const scale = "depth" in image ? 1 / (image.depth === 8 ? 255 : 65_535) : 1;
  let sum = 0;
  for (let i = channels - 1; i < data.length; i += channels) sum += unit(data[i]! * scale);
  return sum / Math.max(1, data.length / channels);
}

/**
 * Three rows of luminance are kept at a time: what a picture costs in memory is the picture.
 * @param isLight the numbers are scene light, and not what displays show; of floats alone
 */
export function measurePicture(image: FloatImage | IntegerImage, isLight: boolean): MeasuredPicture {
  const { width, height, data } = image;
  const rowAt = shownRows(image, isLight);
  const sums = new PictureSums(width, height);
  const hot = new HotPixels();
  let [above, row, below] = [new Float64Array(width), new Float64Array(width), new Float64Array(width)];
  let [nan, grain] = [0, 0];
  for (let y = 0; y < height; y++) {
    [above, row, below] = [row, below, above];
    const shown = rowAt(y);
    nan += shown.nan;
    sums.add(y, shown, below);
    if (y < 2) continue;
    hot.look(y - 1, above, row, below);
    grain += grainOfRow(above, row, below);
  }
  const count = Math.max(1, width * height);
  const mean = sums.sum / count;
  const { count: hotCount, region } = hot.found();
  return {
    width,
    height,
    measures: {
      luminance: mean,
      spread: Math.sqrt(Math.max(0, sums.squares / count - mean * mean)),
      noise: grainDeviation(grain, width, height),
      black: sums.black / count,
      clipped: sums.clipped / count,
      hot: hotCount,
      nan,
      alpha: alphaOf(image),
    },
    sketch: sums.sketch(),
    hotRegion: region,
    pixels: pixelSum(new Uint8Array(data.buffer, data.byteOffset, data.byteLength)),
  };
}
