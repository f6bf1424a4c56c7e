/**
 * A checkpoint as bytes: everything that a render needs to go on as if nothing had happened.
 *
 *     bytes      what
 *     0..7       "PTALLYC1"
 *     8..11      length of the header, little-endian; a multiple of 8 less 4, so that the sums are aligned
 *     12..       header, JSON, padded with blanks
 *     ..         of another renderer the files that it keeps, as the header lists them; else
 *                sums in the order of `arraysOf`, little-endian as the processors in use have them
 *     last 32    SHA-256 of all before
 */
import { checkpointBytes } from "@/core/run/checkpoint";
import { arraysOf, type FrameSums, makeSums, type SumsKept } from "./frame-sums";

/** First bytes of the file; the last sign is the layout's number. */
const MAGIC = "PTALLYC1";
/** SHA-256. */
const DIGEST_BYTES = 32;
/** Before the header's text. */
const HEAD_BYTES = 12;

/** Of several pieces as if they were one. */
export type Digest = (parts: readonly Uint8Array[]) => Uint8Array;

/** The same memory, seen as bytes. */
const bytesOf = (array: Float64Array | Uint32Array): Uint8Array =>
  new Uint8Array(array.buffer, array.byteOffset, array.byteLength);

/** The beginning of the file: what it is, and its header. */
export function encodeHead(header: object): Uint8Array {
  const json = JSON.stringify(header);
  const text = new TextEncoder().encode(json);
  const length = Math.ceil((text.length + HEAD_BYTES) / 8) * 8 - HEAD_BYTES;
  const head = new Uint8Array(HEAD_BYTES + length).fill(0x20);
  for (let i = 0; i < MAGIC.length; i++) head[i] = MAGIC.charCodeAt(i);
  new DataView(head.buffer).setUint32(8, length, true);
  head.set(text, HEAD_BYTES);
  return head;
}

/** Parts of the file in their order, without copying the sums. */
export function encodeCheckpoint(header: object, sums: FrameSums, digest: Digest): Uint8Array[] {
  const parts = [encodeHead(header), ...arraysOf(sums).map(bytesOf)];
  return [...parts, digest(parts)];
}

/**
 * Length of the header and its JSON from the first bytes of a file, or null when they are no checkpoint's.
 */
export function readCheckpointHeader(
  bytes: Uint8Array,
): { readonly end: number; readonly header: unknown } | null {
  if (bytes.length < HEAD_BYTES || String.fromCharCode(...bytes.subarray(0, MAGIC.length)) !== MAGIC)
    return null;
  const end = HEAD_BYTES + new DataView(bytes.buffer, bytes.byteOffset).getUint32(8, true);
  if (end > bytes.length) return null;
  try {
    return { end, header: JSON.parse(new TextDecoder().decode(bytes.subarray(HEAD_BYTES, end))) };
  } catch {
    return null;
  }
}

/** Bytes of a whole file whose header ends at `end`. */
export const fileBytes = (end: number, pixels: number, kept: SumsKept): number =>
  end + checkpointBytes(pixels, kept) + DIGEST_BYTES;

/** The sums after a header, or null when the file is cut short or altered. */
export function readCheckpointSums(
  bytes: Uint8Array,
  end: number,
  size: { readonly width: number; readonly height: number; readonly kept: SumsKept },
  digest: Digest,
): FrameSums | null {
  const sums = makeSums(size.width, size.height, size.kept);
  const arrays = arraysOf(sums);
  if (bytes.length !== fileBytes(end, size.width * size.height, size.kept)) return null;
  const body = bytes.subarray(0, bytes.length - DIGEST_BYTES);
  if (digest([body]).some((byte, i) => byte !== bytes[body.length + i])) return null;
  let at = end;
  for (const array of arrays) {
    bytesOf(array).set(body.subarray(at, at + array.byteLength));
    at += array.byteLength;
  }
  return sums;
}
