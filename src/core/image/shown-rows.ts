/** Rows of a picture as displays show them, whatever its numbers are. */
import type { FloatImage, IntegerImage } from "./pixels";
import { transfer } from "./tone";

/** The curve of displays (IEC 61966-2-1), by steps fine enough for 16 bits near black. */
const CURVE_STEPS = 16_384;
/** Below, it is straight, or too steep for the steps. */
const FROM_TABLE = 0.0031308;
let curve: Float32Array | null = null;
function shownLight(light: number): number {
  if (!(light > 0)) return 0;
  if (light >= 1) return 1;
  if (light < FROM_TABLE) return transfer(light);
  curve ??= Float32Array.from({ length: CURVE_STEPS + 2 }, (_, i) => transfer(i / CURVE_STEPS));
  const at = light * CURVE_STEPS;
  const low = Math.floor(at);
  return curve[low]! + (curve[low + 1]! - curve[low]!) * (at - low);
}

/** From 0 to 1; what is no number is 0. */
export const unit = (value: number): number => (value > 0 ? (value < 1 ? value : 1) : 0);

/** Good until the next one is asked for. */
export interface ShownRow {
  /** From 0 to `white`: red, and so far behind it green and blue. */
  readonly values: Uint8Array | Uint16Array | Float32Array;
  readonly green: number;
  readonly blue: number;
  /** From pixel to pixel. */
  readonly stride: number;
  readonly white: number;
  /** Pixels with a value that is no number, or infinite. */
  readonly nan: number;
}

/** Of an integer picture the numbers are what is shown: its rows are views. */
function integerRows({ width, channels, data, depth }: IntegerImage): (y: number) => ShownRow {
  const [green, blue] = channels < 3 ? [0, 0] : [1, 2];
  const shape = { green, blue, stride: channels, white: depth === 8 ? 255 : 65_535, nan: 0 };
  const length = width * channels;
  return (y) => ({ values: data.subarray(y * length, (y + 1) * length), ...shape });
}

function floatRows({ width, channels, data }: FloatImage, isLight: boolean): (y: number) => ShownRow {
  const shown = isLight ? shownLight : unit;
  const [green, blue] = channels < 3 ? [0, 0] : [1, 2];
  const values = new Float32Array(width * 3);
  return (y) => {
    let nan = 0;
    for (let to = 0, i = y * width * channels; to < values.length; to += 3, i += channels) {
      const r = data[i]!;
      const g = data[i + green]!;
      const b = data[i + blue]!;
      // Of a value that is no number, or infinite, nothing is left but that.
      if ((r + g + b) * 0 !== 0) nan++;
      values[to] = shown(r);
      values[to + 1] = shown(g);
      values[to + 2] = shown(b);
    }
    return { values, green: 1, blue: 2, stride: 3, white: 1, nan };
  };
}

/** @param isLight floats are scene light, and go through the curve of displays */
export const shownRows = (image: FloatImage | IntegerImage, isLight: boolean): ((y: number) => ShownRow) =>
  "depth" in image ? integerRows(image) : floatRows(image, isLight);
