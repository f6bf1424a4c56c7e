import { meetBox, meetCone, meetPlane, meetSphere, meetTorus, T_MIN } from "./shapes";

/**
 * Signed "outside" of each shape, straight from its definition in shapes.ts: positive outside, negative
 * inside.
 */
const OUTSIDE = {
  sphere: (x: number, y: number, z: number) => Math.hypot(x, y, z) - 1,
  box: (x: number, y: number, z: number) => Math.max(Math.abs(x), Math.abs(y), Math.abs(z)) - 1,
  cylinder: (x: number, y: number, z: number) => Math.max(Math.hypot(x, z) - 1, -y, y - 1),
  cone: (x: number, y: number, z: number) => Math.max(Math.hypot(x, z) - (1 - 0.7 * y), -y, y - 1),
  torus: (x: number, y: number, z: number) => Math.hypot(Math.hypot(x, z) - 1, y) - 0.3,
};
type Shape = keyof typeof OUTSIDE;

const MEET: Readonly<Record<Shape, (o: readonly number[], d: readonly number[]) => number>> = {
  sphere: (o, d) => meetSphere(o[0]!, o[1]!, o[2]!, d[0]!, d[1]!, d[2]!, T_MIN, 1e9),
  box: (o, d) => meetBox(o[0]!, o[1]!, o[2]!, d[0]!, d[1]!, d[2]!, T_MIN, 1e9),
  cylinder: (o, d) => meetCone(o[0]!, o[1]!, o[2]!, d[0]!, d[1]!, d[2]!, 1, T_MIN, 1e9),
  cone: (o, d) => meetCone(o[0]!, o[1]!, o[2]!, d[0]!, d[1]!, d[2]!, 0.3, T_MIN, 1e9),
  torus: (o, d) => meetTorus(o[0]!, o[1]!, o[2]!, d[0]!, d[1]!, d[2]!, 0.3, T_MIN, 1e9),
};

/** Walks the ray in small steps and tells where it first changes sides: slow, and surely right to a step. */
function walk(shape: Shape, o: readonly number[], d: readonly number[]): number {
  const at = (t: number): number => OUTSIDE[shape](o[0]! + t * d[0]!, o[1]! + t * d[1]!, o[2]! + t * d[2]!);
  const side = Math.sign(at(1e-3));
  for (let t = 1e-3; t < 12; t += STEP) if (Math.sign(at(t)) !== side) return t;
  return -1;
}

/** Rays from a fixed generator, from outside and from inside, towards the shape's surroundings. */
function rays(n: number): { o: number[]; d: number[] }[] {
  let state = 7;
  const random = (): number => (state = (Math.imul(state, 1664525) + 1013904223) >>> 0) / 4294967296;
  return Array.from({ length: n }, (_, i) => {
    const spread = i % 3 === 0 ? 0.6 : 4;
    const o = [0, 0, 0].map(() => (random() * 2 - 1) * spread);
    const aim = [0, 0, 0].map(() => random() * 2 - 1);
    const d = aim.map((a, k) => a - (i % 3 === 0 ? 0 : o[k]!));
    const length = Math.hypot(...d);
    return { o, d: d.map((x) => x / length) };
  });
}

const STEP = 2e-3;

test.each(Object.keys(OUTSIDE) as Shape[])(
  "%s: rays meet it where a walk along the ray finds its surface",
  (shape) => {
    let met = 0;
    for (const { o, d } of rays(300)) {
      const expected = walk(shape, o, d);
      const t = MEET[shape](o, d);
      const off =
        t < 0 ? 0 : Math.abs(OUTSIDE[shape](o[0]! + t * d[0]!, o[1]! + t * d[1]!, o[2]! + t * d[2]!));
      // What is met is on the surface, and nothing before it was passed over: the walk is blind only to
      // grazes shorter than its step.
      expect([o, d, off < 1e-3]).toEqual([o, d, true]);
      if (expected < 0) continue;
      met++;
      expect([o, d, t > 0 && t < expected + STEP]).toEqual([o, d, true]);
    }
    expect(met).toBeGreaterThan(80);
  },
);

test("a plane is met from either side, and not by a ray along it or away from it", () => {
  expect([
    meetPlane(2, -1, T_MIN, 9),
    meetPlane(-2, 1, T_MIN, 9),
    meetPlane(2, 1, T_MIN, 9),
    meetPlane(2, 0, T_MIN, 9),
    meetPlane(2, -0.1, T_MIN, 9),
  ]).toEqual([2, 2, -1, -1, -1]);
});
