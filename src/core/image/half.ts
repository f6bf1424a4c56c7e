/** IEEE 754 half-precision numbers (binary16), as OpenEXR stores them. */

const floats = new Float32Array(1);
/** One word, seen as a float and as bits. */
const bits = new Uint32Array(floats.buffer);

/** Nearest half, ties to even. Beyond 65,504 it becomes infinite; not-a-number stays so. */
export function toHalf(value: number): number {
  floats[0] = value;
  const b = bits[0]!;
  const sign = (b >>> 16) & 0x8000;
  const exponent = (b >>> 23) & 0xff;
  let mantissa = b & 0x7fffff;
  if (exponent === 0xff) return sign | 0x7c00 | (mantissa === 0 ? 0 : 0x200);
  const e = exponent - 112;
  if (e >= 31) return sign | 0x7c00;
  if (e <= 0) {
    if (e < -10) return sign;
    mantissa |= 0x800000;
    const shift = 14 - e;
    const half = mantissa >>> shift;
    const rest = mantissa & ((1 << shift) - 1);
    const middle = 1 << (shift - 1);
    return sign | (rest > middle || (rest === middle && (half & 1) === 1) ? half + 1 : half);
  }
  const half = (e << 10) | (mantissa >>> 13);
  const rest = mantissa & 0x1fff;
  // A carry out of the mantissa raises the exponent, which is just what rounding up means.
  return sign | (rest > 0x1000 || (rest === 0x1000 && (half & 1) === 1) ? half + 1 : half);
}

/**
 * Every one of the 65,536 patterns has a value: infinities and NaN too, which is how broken pixels are found.
 */
export function fromHalf(half: number): number {
  const exponent = (half >>> 10) & 0x1f;
  const mantissa = half & 0x3ff;
  const size =
    exponent === 31
      ? mantissa === 0
        ? Infinity
        : NaN
      : exponent === 0
        ? mantissa * 2 ** -24
        : (1 + mantissa / 1024) * 2 ** (exponent - 15);
  return half & 0x8000 ? -size : size;
}
