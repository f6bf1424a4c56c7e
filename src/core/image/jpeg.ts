/**
 * The frame of a JPEG file (ITU T.81): markers FF xx, most followed by a length (2, big-endian) and
 * data; after SOS the coded picture, in which FF is followed by 00 or a restart mark, up to EOI.
 * The coding itself is a codec's work; here are the comment that says who made the file, and the check.
 */
import { fromLatin1, joinBytes, latin1, readTextLines, textLines, viewOf } from "./bytes";
import { damaged, type FileVerdict, goodVerdict } from "./verdict";

/** Start, end, start of the coded picture, comment. */
const SOI = 0xd8,
  EOI = 0xd9,
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

/**
 * Start of frame: baseline, extended, progressive, lossless and their kin, without the tables that share the
 * range.
 */
const isFrameHeader = (marker: number): boolean =>
  marker >= 0xc0 && marker <= 0xcf && ![0xc4, 0xc8, 0xcc].includes(marker);

/**
 * Is a JPEG file whole? Segments, size, a scan, and an end mark behind the last one. How much of a cut file
 * is there cannot be told without decoding.
 */
export function checkJpeg(bytes: Uint8Array): FileVerdict {
  if (bytes.length === 0) return damaged("jpeg", "empty", "the file is empty");
  if (!isJpeg(bytes))
    return bytes.length < 3
      ? damaged("jpeg", "truncated", `only ${bytes.length} bytes are there`)
      : damaged("jpeg", "not-an-image", "the file does not begin like a JPEG");
  let shape: { width: number; height: number; bitDepth: number; channels: number } | null = null;
  let scan = -1;
  for (const { marker, data, end } of segmentsOf(bytes)) {
    if (isFrameHeader(marker) && data.length >= 6)
      shape = {
        bitDepth: data[0]!,
        height: viewOf(data).getUint16(1),
        width: viewOf(data).getUint16(3),
        channels: data[5]!,
      };
    if (marker === SOS) scan = end;
  }
  if (shape === null || scan < 0)
    return damaged(
      "jpeg",
      "truncated",
      `cut short after ${bytes.length} bytes, before the picture begins`,
      shape,
    );
  if (shape.width < 1 || shape.height < 1)
    return damaged("jpeg", "corrupt", `the picture says it is ${shape.width} x ${shape.height}`);
  for (let at = bytes.length - 2; at >= scan; at--) {
    if (bytes[at] === 0xff && bytes[at + 1] === EOI) {
      const behind = bytes.length - at - 2;
      return behind === 0
        ? goodVerdict("jpeg", shape)
        : damaged("jpeg", "corrupt", `${behind} bytes follow the end`, shape);
    }
  }
  return damaged(
    "jpeg",
    "truncated",
    `cut short after ${bytes.length} bytes: the end mark is missing`,
    shape,
  );
}
