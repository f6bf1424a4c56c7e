/** Measures of a picture's pixels. */
import type { Rgb8Image } from "./png-write";

/** Mean luminance (Rec. 709 weights on display values), 0 to 1. */
export function meanLuminance({ data }: Rgb8Image): number {
  let sum = 0;
  for (let i = 0; i < data.length; i += 3) sum += 0.2126 * data[i]! + 0.7152 * data[i + 1]! + 0.0722 * data[i + 2]!;
  return data.length === 0 ? 0 : sum / (data.length / 3) / 255;
}
