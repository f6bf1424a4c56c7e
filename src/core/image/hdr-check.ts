/**
 * Is a Radiance picture whole? Lines of text up to an empty one, the size, then every line of the picture: plain,
 * run lengths of whole pixels, or (the usual kind) of each of the four bytes on its own.
 */
import { fromLatin1 } from "./bytes";
import { cutShort, damaged, type FileVerdict, goodVerdict, type Shape, trailing } from "./verdict";

/** Widths that have run lengths of the newer kind. */
const SHORTEST = 8,
  LONGEST = 0x7fff;
/** Texts are short; a size behind more than that is none. */
const LONGEST_HEADER = 1 << 20;
/** Such as a picture from the top left: "-Y 540 +X 960". */
const SIZE = /^([-+][XY]) (\d{1,9}) ([-+][XY]) (\d{1,9})$/;

/** Programs put their own name behind the mark. */
const isBeginning = (bytes: Uint8Array): boolean => /^#(?:\?[A-Za-z]{0,6})?$/.test(fromLatin1(bytes));

export const isHdr = (bytes: Uint8Array): boolean => /^#\?[A-Za-z]{4}/.test(fromLatin1(bytes.subarray(0, 6)));

/** Behind the line that begins at `at`, or null where it has no end. @param into is read: runs of each byte */
function lineEnd(bytes: Uint8Array, at: number, length: number): number | null {
  const isNew =
    length >= SHORTEST && length <= LONGEST && bytes[at] === 2 && bytes[at + 1] === 2 && bytes[at + 2]! < 128;
  if (!isNew) return plainLineEnd(bytes, at, length);
  if (((bytes[at + 2]! << 8) | bytes[at + 3]!) !== length) return null;
  at += 4;
  for (let channel = 0; channel < 4; channel++)
    for (let x = 0; x < length;) {
      if (at + 1 >= bytes.length) return null;
      const n = bytes[at]!;
      if (n === 0) return null;
      const isRun = n > 128;
      x += isRun ? n - 128 : n;
      at += isRun ? 2 : 1 + n;
      if (x > length) return null;
    }
  return at <= bytes.length ? at : null;
}

/** Pixels of four bytes; one of 1, 1, 1 repeats the one before. */
function plainLineEnd(bytes: Uint8Array, at: number, length: number): number | null {
  let shift = 0;
  for (let x = 0; x < length; at += 4) {
    if (at + 4 > bytes.length) return null;
    if (bytes[at] === 1 && bytes[at + 1] === 1 && bytes[at + 2] === 1) {
      x += bytes[at + 3]! << shift;
      shift = Math.min(24, shift + 8);
    } else {
      x++;
      shift = 0;
    }
  }
  return at;
}

export function checkHdr(bytes: Uint8Array): FileVerdict {
  if (bytes.length === 0) return damaged("hdr", "empty", "the file is empty");
  if (!isHdr(bytes))
    return bytes.length < 6 && isBeginning(bytes)
      ? damaged("hdr", "truncated", `only ${bytes.length} bytes are there`)
      : damaged("hdr", "not-an-image", "the file does not begin like a Radiance picture");
  let at = 0;
  const line = (): string | null => {
    const end = bytes.indexOf(0x0a, at);
    if (end < 0 || end > LONGEST_HEADER) return null;
    const text = fromLatin1(bytes.subarray(at, end)).replace(/\r$/, "");
    at = end + 1;
    return text;
  };
  for (let text = line(); text !== ""; text = line())
    if (text === null)
      return damaged("hdr", "truncated", `cut short after ${bytes.length} bytes, before the header ends`);
  const said = line();
  if (said === null)
    return damaged("hdr", "truncated", `cut short after ${bytes.length} bytes, before the header ends`);
  const [, first, a, second, b] = SIZE.exec(said) ?? [];
  if (first === undefined || second === undefined || first[1] === second[1])
    return damaged("hdr", "corrupt", "the line of its size cannot be read");
  // Lines run along the second number.
  const [lines, length] = [Number(a), Number(b)];
  if (lines < 1 || length < 1)
    return damaged("hdr", "corrupt", `the picture says it is ${length} x ${lines}`);
  const shape: Shape = {
    ...(first[1] === "Y" ? { width: length, height: lines } : { width: lines, height: length }),
    channels: 3,
    bitDepth: 8,
  };
  for (let y = 0; y < lines; y++) {
    const end = lineEnd(bytes, at, length);
    if (end === null)
      // A line that goes wrong long before the end of the file is no cut.
      return bytes.length - at > length * 8 + 64
        ? damaged("hdr", "corrupt", `line ${y + 1} of ${lines} does not unpack`, shape, y / lines)
        : cutShort("hdr", bytes.length, shape, y / lines);
    at = end;
  }
  return goodVerdict("hdr", shape, trailing(bytes.length, at));
}
