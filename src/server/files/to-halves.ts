/** Numbers of a picture as half floats for the viewer's shader, smaller on the way where it plays smaller. */
import type { HalfPicture, Reduction } from "@/contract/viewer-picture";
import { toHalf } from "@/core/image/half";
import { isInteger, type ReadPicture } from "./read-pixels";

/** Every value that an integer of a depth can have, as half float from 0 to 1. */
function table(depth: 8 | 16): Uint16Array {
  const top = depth === 8 ? 255 : 65_535;
  return Uint16Array.from({ length: top + 1 }, (_, value) => toHalf(value / top));
}
const tables = new Map<8 | 16, Uint16Array>();

function tableOf(depth: 8 | 16): Uint16Array {
  const known = tables.get(depth) ?? table(depth);
  tables.set(depth, known);
  return known;
}

/** Mean of each square of `over` pixels a side; the last of a line may be narrower. */
function reduced(picture: ReadPicture, over: Reduction): Uint16Array<ArrayBuffer> {
  const { width, height, channels, data } = picture;
  const top = isInteger(picture) ? (picture.depth === 8 ? 255 : 65_535) : 1;
  const [w, h] = [Math.ceil(width / over), Math.ceil(height / over)];
  const out = new Uint16Array(w * h * channels);
  for (let y = 0, to = 0; y < h; y++) {
    const lines = Math.min(over, height - y * over);
    for (let x = 0; x < w; x++) {
      const columns = Math.min(over, width - x * over);
      for (let c = 0; c < channels; c++) {
        let sum = 0;
        for (let dy = 0; dy < lines; dy++) {
          let at = ((y * over + dy) * width + x * over) * channels + c;
          for (let dx = 0; dx < columns; dx++, at += channels) sum += data[at]!;
        }
        out[to++] = toHalf(sum / (lines * columns * top));
      }
    }
  }
  return out;
}

function whole(picture: ReadPicture): Uint16Array<ArrayBuffer> {
  const out = new Uint16Array(picture.data.length);
  if (isInteger(picture)) {
    const halves = tableOf(picture.depth);
    for (let i = 0; i < out.length; i++) out[i] = halves[picture.data[i]!]!;
  } else for (let i = 0; i < out.length; i++) out[i] = toHalf(picture.data[i]!);
  return out;
}

/** @param over 1: every pixel of the file */
export const toHalves = (picture: ReadPicture, over: Reduction): HalfPicture => ({
  width: Math.ceil(picture.width / over),
  height: Math.ceil(picture.height / over),
  wholeWidth: picture.width,
  wholeHeight: picture.height,
  channels: picture.channels,
  data: over === 1 ? whole(picture) : reduced(picture, over),
});
