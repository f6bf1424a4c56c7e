/**
 * Pictures for the viewer: as the browser reads them itself, or as half floats. One of half floats on its way to the viewer, as it lies in the server's store and as it travels:
 *
 *     at   bytes  little endian
 *      0   4      "PTH1"
 *      4   4      width of what is here, in pixels
 *      8   4      height
 *     12   4      width of the whole picture that it was made from
 *     16   4      height
 *     20   4      channels: 1 grey · 2 grey and alpha · 3 colour · 4 colour and alpha
 *     24   8      0
 *     32   …      halves: rows from the top, pixels from the left, channels interleaved
 */
import { type Channels, MAX_SIDE } from "@/core/image/pixels";

/** By how much each side may be made shorter on the way; 1: as it is. */
export const REDUCTIONS = [1, 2, 4, 8] as const;
export type Reduction = (typeof REDUCTIONS)[number];

/** Header of an answer that is no half picture: width and height of the file's picture, as `1920x1080`. */
export const WHOLE_SIZE_HEADER = "x-whole-size";

/** As the answer's type. */
export const HALF_PICTURE_TYPE = "application/x-half-picture";

const MARK = 0x31485450;
const HEAD_BYTES = 32;

export interface HalfPicture {
  readonly width: number;
  readonly height: number;
  /** Of the file. */
  readonly wholeWidth: number;
  readonly wholeHeight: number;
  readonly channels: Channels;
  /** Bits of half floats. */
  readonly data: Uint16Array<ArrayBuffer>;
}

/** All of it as bytes. */
export function packHalfPicture(picture: HalfPicture): Uint8Array<ArrayBuffer> {
  const packed = new Uint8Array(HEAD_BYTES + picture.data.byteLength);
  const head = new DataView(packed.buffer);
  const { width, height, wholeWidth, wholeHeight, channels } = picture;
  [MARK, width, height, wholeWidth, wholeHeight, channels].forEach((word, i) =>
    head.setUint32(i * 4, word, true),
  );
  packed.set(
    new Uint8Array(picture.data.buffer, picture.data.byteOffset, picture.data.byteLength),
    HEAD_BYTES,
  );
  return packed;
}

/** Without a copy. Null where the bytes are no such picture, or not all of one. */
export function unpackHalfPicture(packed: ArrayBuffer): HalfPicture | null {
  if (packed.byteLength < HEAD_BYTES) return null;
  const head = new DataView(packed);
  const word = (i: number): number => head.getUint32(i * 4, true);
  const [width, height, wholeWidth, wholeHeight, channels] = [word(1), word(2), word(3), word(4), word(5)];
  if (word(0) !== MARK || width < 1 || height < 1 || width > MAX_SIDE || height > MAX_SIDE) return null;
  if (channels < 1 || channels > 4) return null;
  if (packed.byteLength !== HEAD_BYTES + width * height * channels * 2) return null;
  return {
    width,
    height,
    wholeWidth,
    wholeHeight,
    channels: channels as Channels,
    data: new Uint16Array(packed, HEAD_BYTES),
  };
}
