/**
 * Affine transforms as 12 numbers, three rows of four:
 *
 *     m0 m1 m2  | m3        x' = m0 x + m1 y + m2 z + m3
 *     m4 m5 m6  | m7
 *     m8 m9 m10 | m11
 */
import type { Vec3 } from "@/contract/scene";

/** Twelve numbers, laid out as drawn above. */
export type Affine = Float64Array;

/** Scale first, then turn about x, y, z (degrees), then move. */
export function placement(position: Vec3, rotation: Vec3, scale: Vec3): Affine {
  const [rx, ry, rz] = rotation.map((d) => (d * Math.PI) / 180) as [number, number, number];
  const [cx, sx, cy, sy, cz, sz] = [
    Math.cos(rx),
    Math.sin(rx),
    Math.cos(ry),
    Math.sin(ry),
    Math.cos(rz),
    Math.sin(rz),
  ];
  const [a, b, c] = scale;
  return Float64Array.of(
    cz * cy * a,
    (cz * sy * sx - sz * cx) * b,
    (cz * sy * cx + sz * sx) * c,
    position[0],
    sz * cy * a,
    (sz * sy * sx + cz * cx) * b,
    (sz * sy * cx - cz * sx) * c,
    position[1],
    -sy * a,
    cy * sx * b,
    cy * cx * c,
    position[2],
  );
}

/** Changes nothing. */
export const IDENTITY: Affine = Float64Array.of(1, 0, 0, 0, 0, 1, 0, 0, 0, 0, 1, 0);

/** a after b. */
export function compose(a: Affine, b: Affine): Affine {
  const out = new Float64Array(12);
  for (let row = 0; row < 3; row++) {
    for (let col = 0; col < 4; col++) {
      let sum = col === 3 ? a[row * 4 + 3]! : 0;
      for (let k = 0; k < 3; k++) sum += a[row * 4 + k]! * b[k * 4 + col]!;
      out[row * 4 + col] = sum;
    }
  }
  return out;
}

/**
 * Writes the inverse of `m` (12 numbers from `at`) into `out` from `outAt`. A flat transform gives
 * infinities, and no ray hits it.
 */
export function invertInto(out: Float64Array, outAt: number, m: Float64Array, at: number): void {
  const a = m[at]!,
    b = m[at + 1]!,
    c = m[at + 2]!,
    x = m[at + 3]!;
  const d = m[at + 4]!,
    e = m[at + 5]!,
    f = m[at + 6]!,
    y = m[at + 7]!;
  const g = m[at + 8]!,
    h = m[at + 9]!,
    i = m[at + 10]!,
    z = m[at + 11]!;
  const A = e * i - f * h,
    B = f * g - d * i,
    C = d * h - e * g;
  const k = 1 / (a * A + b * B + c * C);
  const n0 = A * k,
    n1 = (c * h - b * i) * k,
    n2 = (b * f - c * e) * k;
  const n4 = B * k,
    n5 = (a * i - c * g) * k,
    n6 = (c * d - a * f) * k;
  const n8 = C * k,
    n9 = (b * g - a * h) * k,
    n10 = (a * e - b * d) * k;
  out[outAt] = n0;
  out[outAt + 1] = n1;
  out[outAt + 2] = n2;
  out[outAt + 3] = -(n0 * x + n1 * y + n2 * z);
  out[outAt + 4] = n4;
  out[outAt + 5] = n5;
  out[outAt + 6] = n6;
  out[outAt + 7] = -(n4 * x + n5 * y + n6 * z);
  out[outAt + 8] = n8;
  out[outAt + 9] = n9;
  out[outAt + 10] = n10;
  out[outAt + 11] = -(n8 * x + n9 * y + n10 * z);
}
