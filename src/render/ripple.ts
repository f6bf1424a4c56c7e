/**
 * Rippled water: a sum of waves, which only bends the normal of a plane.
 * The plane stays flat, so that rays still meet it as one; only its shading shows waves.
 */
import type { Material } from "./world";

/** Direction (x, z), relative length and speed of each wave: fixed, chosen without a common period. */
const WAVES = Float64Array.of(
  1,
  0.15,
  1,
  1,
  0.8,
  0.6,
  0.61,
  1.3,
  0.55,
  -0.83,
  0.37,
  1.7,
  -0.25,
  0.97,
  0.23,
  2.2,
  0.95,
  -0.3,
  0.13,
  2.9,
);

/** One array for all, so that no ray makes garbage. */
const bent = new Float64Array(3);

/**
 * Normal of rippled water: the slopes of a sum of sines, flattened with distance because far waves average
 * out.
 */
export function ripple(
  r: NonNullable<Extract<Material, { kind: "diffuse" | "metal" }>["ripples"]>,
  x: number,
  z: number,
  distance: number,
  nx: number,
  ny: number,
  nz: number,
): Float64Array {
  let sx = 0,
    sz = 0;
  for (let i = 0; i < WAVES.length; i += 4) {
    const wx = WAVES[i]!,
      wz = WAVES[i + 1]!,
      length = WAVES[i + 2]!,
      speed = WAVES[i + 3]!;
    const k = (2 * Math.PI) / (r.length * length);
    // A wave that is short against the distance is below what a pixel can show.
    const calm = 1 / (1 + (distance * 0.02) / (r.length * length));
    const slope = r.height * length * k * Math.cos(k * (wx * x + wz * z - r.phase * speed)) * calm;
    sx += wx * slope;
    sz += wz * slope;
  }
  bent[0] = nx - sx;
  bent[1] = ny;
  bent[2] = nz - sz;
  const scale = 1 / Math.sqrt(bent[0] * bent[0] + bent[1] * bent[1] + bent[2] * bent[2]);
  bent[0] *= scale;
  bent[1] *= scale;
  bent[2] *= scale;
  return bent;
}
