/**
 * Text for pictures, as coverage: set with the font that ships, whose outlines the image codec paints. Fonts of the
 * machine play no part, so that every node writes the same.
 */
import fs from "node:fs";
import path from "node:path";
import opentype, { type Font } from "opentype.js";
import sharp from "sharp";
import { home } from "../configuration";

const FONT =
  "node_modules/@fontsource/atkinson-hyperlegible-mono/files/atkinson-hyperlegible-mono-latin-400-normal.woff";

let font: Font | null = null;
function fontThatShips(): Font {
  if (font === null) {
    const bytes = fs.readFileSync(path.join(home(), FONT));
    font = opentype.parse(
      bytes.buffer.slice(bytes.byteOffset, bytes.byteOffset + bytes.length) as ArrayBuffer,
    );
  }
  return font;
}

export interface SetText {
  readonly width: number;
  readonly height: number;
  /** Of each pixel, 0 to 255. */
  readonly coverage: Uint8Array;
}

/** Of the height of a line. */
const PADDING = 0.35;
const ASCENT = 0.78;

/** @param lineHeight in pixels; @param widest in pixels: what is longer is set smaller */
export async function setText(text: string, lineHeight: number, widest: number): Promise<SetText> {
  const own = fontThatShips();
  const wide = own.getAdvanceWidth(text, lineHeight) + 2 * PADDING * lineHeight;
  const size = wide <= widest ? lineHeight : Math.max(4, (lineHeight * widest) / wide);
  const pad = size * PADDING;
  const width = Math.max(1, Math.min(widest, Math.ceil(own.getAdvanceWidth(text, size) + 2 * pad)));
  const height = Math.max(1, Math.ceil(size + pad));
  const outline = own.getPath(text, pad, pad / 2 + size * ASCENT, size).toPathData(2);
  const svg = `<svg xmlns="http://www.w3.org/2000/svg" width="${width}" height="${height}"><rect width="100%" height="100%" fill="black"/><path fill="white" d="${outline}"/></svg>`;
  const coverage = await sharp(Buffer.from(svg)).toColourspace("b-w").raw().toBuffer();
  return { width, height, coverage: new Uint8Array(coverage) };
}

/** Lines of a picture to one of its text. */
const LINES_A_TEXT = 30;
/** Smaller cannot be read. */
const LEAST_LINE = 9;

/** Of a line burnt into a picture of a height. */
export const lineHeightIn = (height: number): number =>
  Math.max(LEAST_LINE, Math.round(height / LINES_A_TEXT));

/** A black picture with a text in its middle, red, green, blue. */
export async function cardPixels(
  { width, height }: { readonly width: number; readonly height: number },
  text: string,
): Promise<Uint8Array> {
  const data = new Uint8Array(width * height * 3);
  if (text === "") return data;
  const set = await setText(text, Math.max(LEAST_LINE, Math.round(height / 8)), width);
  const [left, top] = [Math.floor((width - set.width) / 2), Math.floor((height - set.height) / 2)];
  for (let y = 0; y < set.height; y++) {
    const line = top + y;
    if (line < 0 || line >= height) continue;
    for (let x = 0; x < set.width; x++)
      data.fill(
        set.coverage[y * set.width + x]!,
        (line * width + left + x) * 3,
        (line * width + left + x) * 3 + 3,
      );
  }
  return data;
}
