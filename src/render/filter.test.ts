import { FILTERS, USUAL_RADIUS } from "@/core/plan/picture";
import { makeFilter } from "./filter";

const MANY = 20_000;
const offsets = (kind: (typeof FILTERS)[number], radius: number): number[] => {
  const filter = makeFilter({ kind, radius });
  return Array.from({ length: MANY }, (_, i) => filter.offset((i + 0.5) / MANY));
};

describe.each(FILTERS)("the %s filter", (kind) => {
  const radius = USUAL_RADIUS[kind];
  const filter = makeFilter({ kind, radius });
  const places = offsets(kind, radius);
  test("stays inside its radius, on both sides alike, and counts for one in all", () => {
    expect(Math.max(...places.map(Math.abs))).toBeLessThanOrEqual(radius);
    expect(places.reduce((sum, x) => sum + x, 0) / MANY).toBeCloseTo(0, 3);
    expect(places.reduce((sum, x) => sum + filter.weight(x), 0) / MANY).toBeCloseTo(1, 2);
  });
});

test("soft filters reach over the pixel, the box does not; only Mitchell's takes away", () => {
  const outside = (kind: (typeof FILTERS)[number]): number =>
    offsets(kind, USUAL_RADIUS[kind]).filter((x) => Math.abs(x) > 0.5).length / MANY;
  expect(outside("box")).toBe(0);
  // A tent of radius 1 has a quarter of itself beyond half a pixel.
  expect(outside("tent")).toBeCloseTo(0.25, 2);
  const negative = (kind: (typeof FILTERS)[number]): boolean => {
    const f = makeFilter({ kind, radius: USUAL_RADIUS[kind] });
    return offsets(kind, USUAL_RADIUS[kind]).some((x) => f.weight(x) < 0);
  };
  expect(FILTERS.filter(negative)).toEqual(["mitchell"]);
});
