/**
 * Is a WebP file whole? A RIFF container: chunks of four letters, a length and data filled up to an even number of
 * bytes; inside, one picture (VP8 with loss, VP8L without) or frames of a moving one.
 */
import { viewOf } from "./bytes";
import { typeAt } from "./png-format";
import { cutShort, damaged, type FileVerdict, goodVerdict, type Shape, trailing } from "./verdict";

const CONTAINER = 12;

export const isWebp = (bytes: Uint8Array): boolean =>
  bytes.length >= CONTAINER && typeAt(bytes, 0) === "RIFF" && typeAt(bytes, 8) === "WEBP";

/** Of a lossy picture: three bytes of flags, a start code, the size (RFC 6386, 9.1). Null where it is none. */
function lossyShape(data: Uint8Array): { shape: Shape; first: number } | null {
  if (data.length < 10 || (data[0]! & 1) === 1) return null;
  if (data[3] !== 0x9d || data[4] !== 0x01 || data[5] !== 0x2a) return null;
  const view = viewOf(data);
  const first = (data[0]! | (data[1]! << 8) | (data[2]! << 16)) >> 5;
  return {
    shape: {
      ...{ width: view.getUint16(6, true) & 0x3fff, height: view.getUint16(8, true) & 0x3fff },
      ...{ channels: 3, bitDepth: 8 },
    },
    first,
  };
}

function losslessShape(data: Uint8Array): Shape | null {
  if (data.length < 5 || data[0] !== 0x2f) return null;
  const bits = viewOf(data).getUint32(1, true);
  return {
    ...{ width: (bits & 0x3fff) + 1, height: ((bits >>> 14) & 0x3fff) + 1 },
    ...{ channels: (bits >>> 28) & 1 ? 4 : 3, bitDepth: 8 },
  };
}

export function checkWebp(bytes: Uint8Array): FileVerdict {
  if (bytes.length === 0) return damaged("webp", "empty", "the file is empty");
  if (!isWebp(bytes))
    return bytes.length < CONTAINER && "RIFF".startsWith(typeAt(bytes, 0).slice(0, Math.min(4, bytes.length)))
      ? damaged("webp", "truncated", `only ${bytes.length} bytes are there`)
      : damaged("webp", "not-an-image", "the file does not begin like a WebP");
  const view = viewOf(bytes);
  const end = 8 + view.getUint32(4, true);
  let canvas: Shape | null = null;
  let picture: Shape | null = null;
  let isMoving = false;
  const cut = (): FileVerdict =>
    (canvas ?? picture) === null
      ? damaged("webp", "truncated", `cut short after ${bytes.length} bytes, before the picture begins`)
      : cutShort("webp", bytes.length, (canvas ?? picture)!, Math.min(0.99, bytes.length / end));
  for (let at = CONTAINER; at + 8 <= Math.min(end, bytes.length);) {
    const type = typeAt(bytes, at);
    const size = view.getUint32(at + 4, true);
    const data = bytes.subarray(at + 8, Math.min(at + 8 + size, bytes.length));
    const isWhole = at + 8 + size <= bytes.length;
    if (type === "VP8X" && data.length >= 10)
      canvas = {
        ...{ width: 1 + (viewOf(data).getUint32(4, true) & 0xffffff) },
        ...{ height: 1 + (data[7]! | (data[8]! << 8) | (data[9]! << 16)) },
        ...{ channels: data[0]! & 0x10 ? 4 : 3, bitDepth: 8 },
      };
    else if (type === "ANMF") {
      isMoving = true;
      picture ??= canvas;
    } else if (type === "VP8 ") {
      const read = lossyShape(data);
      if (read === null)
        return isWhole ? damaged("webp", "corrupt", "its picture does not begin as one", canvas) : cut();
      if (isWhole && 10 + read.first > size)
        return damaged("webp", "corrupt", "its picture is shorter than it says", canvas ?? read.shape);
      picture = read.shape;
    } else if (type === "VP8L") {
      picture = losslessShape(data);
      if (picture === null)
        return isWhole ? damaged("webp", "corrupt", "its picture does not begin as one", canvas) : cut();
    }
    if (!isWhole) return cut();
    if (!/^[ -~]{4}$/.test(type))
      return damaged("webp", "corrupt", `no chunk begins at byte ${at}`, canvas ?? picture);
    at += 8 + size + (size & 1);
  }
  if (picture === null)
    return end > bytes.length ? cut() : damaged("webp", "corrupt", "there is no picture in it", canvas);
  // Some writers count what fills up the last chunk, and leave it out.
  if (end > bytes.length + 1) return cut();
  return goodVerdict("webp", canvas ?? picture, [
    ...(isMoving ? ["it is a moving picture"] : []),
    ...trailing(bytes.length, end + (end & 1)),
  ]);
}
