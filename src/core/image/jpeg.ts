/**
 * The frame of a JPEG file (ITU T.81): markers FF xx, most followed by a length (2, big-endian) and
 * data; after SOS the coded picture, in which FF is followed by 00 or a restart mark, up to EOI.
 * The coding itself is a codec's work; here is the comment that says who made the file.
 */
import { fromLatin1, joinBytes, latin1, readTextLines, textLines, viewOf } from "./bytes";

/** Start, start of the coded picture, comment. */
const SOI = 0xd8,
  SOS = 0xda,
  COM = 0xfe;
/** The longest comment a marker can hold. */
const LONGEST_COMMENT = 65_533;

/** By its first three bytes alone. */
export const isJpeg = (bytes: Uint8Array): boolean =>
  bytes.length >= 3 && bytes[0] === 0xff && bytes[1] === SOI && bytes[2] === 0xff;

/** Puts the texts into a comment right after the start of a coded picture. */
export function withComment(jpeg: Uint8Array, texts: Readonly<Record<string, string>>): Uint8Array {
  const text = latin1(textLines(texts)).subarray(0, LONGEST_COMMENT);
  const head = Uint8Array.of(0xff, COM, (text.length + 2) >> 8, (text.length + 2) & 255);
  return joinBytes([jpeg.subarray(0, 2), head, text, jpeg.subarray(2)]);
}

/** Of the header; the coded picture is none. */
interface Segment {
  /** The byte behind FF. */
  readonly marker: number;
  readonly data: Uint8Array;
  /** Where the segment ends; for SOS, where the coded picture begins. */
  readonly end: number;
}

/** Stops where the lengths lead outside of the file. */
function* segmentsOf(bytes: Uint8Array): Generator<Segment> {
  const view = viewOf(bytes);
  let at = 2;
  while (at + 4 <= bytes.length && bytes[at] === 0xff) {
    const marker = bytes[at + 1]!;
    if (marker === 0xff) {
      at++;
      continue;
    }
    const length = view.getUint16(at + 2);
    if (length < 2 || at + 2 + length > bytes.length) return;
    yield { marker, data: bytes.subarray(at + 4, at + 2 + length), end: at + 2 + length };
    if (marker === SOS) return;
    at += 2 + length;
  }
}

/** Our texts from the first comment; none where there is none. */
export function readJpegTexts(bytes: Uint8Array): Map<string, string> {
  if (isJpeg(bytes))
    for (const { marker, data } of segmentsOf(bytes))
      if (marker === COM) return readTextLines(fromLatin1(data));
  return new Map();
}
