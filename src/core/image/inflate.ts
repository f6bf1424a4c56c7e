/** Unpacking zlib streams comes from outside: the core has no Node in it. */

/** Null where the bytes cannot be inflated, or come to more than `most`. */
export type Inflate = (bytes: Uint8Array, most: number) => Uint8Array | null;

/** The closest that zlib can pack, to one (its technical details, "Maximum Compression Factor": 1032). */
export const MOST_RATIO = 1_100;
