/** Zlib streams. Unpacking them comes from outside: the core has no Node in it. */

/** Null where the bytes cannot be inflated, or come to more than `most`. */
export type Inflate = (bytes: Uint8Array, most: number) => Uint8Array | null;

/** The closest that zlib can pack, to one (its technical details, "Maximum Compression Factor": 1032). */
export const MOST_RATIO = 1_100;

/** By the two bytes of its header (RFC 1950): a stream that has lost its beginning is seen without unpacking. */
export const beginsAsZlib = (bytes: Uint8Array): boolean =>
  bytes.length >= 2 && (bytes[0]! & 15) === 8 && ((bytes[0]! << 8) | bytes[1]!) % 31 === 0;

/** Whether the bytes unpack to exactly so many; nothing is made room for that cannot be in there. */
export const unpacksTo = (bytes: Uint8Array, length: number, inflate: Inflate): boolean =>
  bytes.length === 0
    ? length === 0
    : length <= bytes.length * MOST_RATIO && inflate(bytes, length)?.length === length;
