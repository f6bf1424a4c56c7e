/**
 * Where a ray meets each shape, in the shape's own space:
 *
 *     sphere    radius 1 about the origin
 *     box       from -1 to 1 on each axis
 *     plane     y = 0, endless
 *     cylinder  radius 1, y from 0 to 1, closed at both ends
 *     cone      radius 1 at y = 0, `top` at y = 1, closed
 *     torus     ring of radius 1 in y = 0, tube of radius `tube`
 *
 * The direction is not normalised: the transform into the shape's space keeps the ray's parameter, so
 * distances compare across bodies. Each function gives the smallest t in (tMin, tMax), or -1.
 */

export const SHAPE = { sphere: 0, box: 1, plane: 2, cylinder: 3, cone: 4, torus: 5 } as const;

/** Relative to the ray's unit direction in metres: below it a hit is the surface just left. */
export const T_MIN = 1e-5;

/** Distance along the ray in (tMin, tMax), or -1. The direction need not have length 1. */
export function meetSphere(
  ox: number,
  oy: number,
  oz: number,
  dx: number,
  dy: number,
  dz: number,
  tMin: number,
  tMax: number,
): number {
  const a = dx * dx + dy * dy + dz * dz;
  const b = ox * dx + oy * dy + oz * dz;
  const c = ox * ox + oy * oy + oz * oz - 1;
  const disc = b * b - a * c;
  if (disc < 0) return -1;
  const root = Math.sqrt(disc);
  const near = (-b - root) / a;
  if (near > tMin) return near < tMax ? near : -1;
  const far = (-b + root) / a;
  return far > tMin && far < tMax ? far : -1;
}

/** The same, by slabs; from inside it is the far side. */
export function meetBox(
  ox: number,
  oy: number,
  oz: number,
  dx: number,
  dy: number,
  dz: number,
  tMin: number,
  tMax: number,
): number {
  const ix = 1 / dx,
    iy = 1 / dy,
    iz = 1 / dz;
  const x1 = (-1 - ox) * ix,
    x2 = (1 - ox) * ix,
    y1 = (-1 - oy) * iy,
    y2 = (1 - oy) * iy,
    z1 = (-1 - oz) * iz,
    z2 = (1 - oz) * iz;
  const near = Math.max(x1 < x2 ? x1 : x2, y1 < y2 ? y1 : y2, z1 < z2 ? z1 : z2);
  const far = Math.min(x1 < x2 ? x2 : x1, y1 < y2 ? y2 : y1, z1 < z2 ? z2 : z1);
  if (!(near <= far)) return -1;
  if (near > tMin) return near < tMax ? near : -1;
  return far > tMin && far < tMax ? far : -1;
}

/** The same; a ray along the plane divides by zero, which no comparison lets through. */
export function meetPlane(oy: number, dy: number, tMin: number, tMax: number): number {
  const t = -oy / dy;
  return t > tMin && t < tMax ? t : -1;
}

/** Cone with radius r(y) = 1 + (top - 1) y; a cylinder is a cone with top 1. */
export function meetCone(
  ox: number,
  oy: number,
  oz: number,
  dx: number,
  dy: number,
  dz: number,
  top: number,
  tMin: number,
  tMax: number,
): number {
  const k = top - 1;
  const r0 = 1 + k * oy;
  const a = dx * dx + dz * dz - k * k * dy * dy;
  const b = ox * dx + oz * dz - k * dy * r0;
  const c = ox * ox + oz * oz - r0 * r0;
  let best = -1;
  const disc = b * b - a * c;
  if (disc >= 0 && a !== 0) {
    const root = Math.sqrt(disc);
    for (let side = -1; side <= 1; side += 2) {
      const t = (-b + side * root) / a;
      const y = oy + t * dy;
      if (t > tMin && t < tMax && y >= 0 && y <= 1 && (best < 0 || t < best)) best = t;
    }
  }
  if (dy !== 0) {
    for (let end = 0; end <= 1; end++) {
      const t = (end - oy) / dy;
      if (!(t > tMin && t < tMax) || (best >= 0 && t >= best)) continue;
      const x = ox + t * dx;
      const z = oz + t * dz;
      const r = end === 0 ? 1 : top;
      if (x * x + z * z <= r * r) best = t;
    }
  }
  return best;
}

/** Grazing rays creep along the surface; most others need ten steps. */
const TORUS_STEPS = 1024;

/** Sphere tracing (Hart 1996): step by the distance to the torus, which the ray cannot overshoot. */
export function meetTorus(
  ox: number,
  oy: number,
  oz: number,
  dx: number,
  dy: number,
  dz: number,
  tube: number,
  tMin: number,
  tMax: number,
): number {
  // Only the stretch inside the bounding sphere is walked.
  const a = dx * dx + dy * dy + dz * dz;
  const b = ox * dx + oy * dy + oz * dz;
  const reach = 1 + tube;
  const disc = b * b - a * (ox * ox + oy * oy + oz * oz - reach * reach);
  if (disc <= 0) return -1;
  const speed = Math.sqrt(a);
  const root = Math.sqrt(disc);
  let t = Math.max(tMin, (-b - root) / a);
  const end = Math.min(tMax, (-b + root) / a);
  const distance = (at: number): number => {
    const x = ox + at * dx,
      y = oy + at * dy,
      z = oz + at * dz;
    const ring = Math.sqrt(x * x + z * z) - 1;
    return Math.sqrt(ring * ring + y * y) - tube;
  };
  let d = distance(t);
  // A ray that leaves the surface starts on it: walk off first.
  const sign = d < 0 ? -1 : 1;
  if (Math.abs(d) < 1e-4) {
    t += 2e-4 / speed;
    d = distance(t);
  }
  for (let i = 0; i < TORUS_STEPS && t < end; i++) {
    const step = d * sign;
    if (step < 1e-5) return t > tMin && t < tMax ? t : -1;
    t += step / speed;
    d = distance(t);
  }
  return -1;
}
