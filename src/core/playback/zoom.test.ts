import { FITTED, movedBy, partAt, pixelAt, placeOf, zoomAt } from "./zoom";

const PART = { width: 1000, height: 500 };
const HD = { width: 1920, height: 1080 };
const SMALL = { width: 240, height: 135 };

test("a large picture fits with a margin, in its own shape, in the middle", () => {
  const placed = placeOf(FITTED, PART, HD);
  expect(placed.height).toBeCloseTo(484);
  expect(placed.width / placed.height).toBeCloseTo(1920 / 1080);
  expect(placed.left + placed.width / 2).toBeCloseTo(500, 0);
});

test("a small one is enlarged by whole steps", () =>
  expect(placeOf(FITTED, PART, SMALL)).toEqual({ left: 140, top: 48, width: 720, height: 405 }));

test("what is under the pointer stays there, in and out again", () => {
  const [x, y] = [420, 111];
  const first = placeOf(FITTED, PART, HD);
  const under = partAt(first, x, y);
  let zoom = FITTED;
  for (const by of [1.25, 4, 2, 0.5, 0.25]) {
    zoom = zoomAt(zoom, PART, HD, x, y, by);
    const placed = placeOf(zoom, PART, HD);
    const now = partAt(placed, x, y);
    // Both places are whole pixels of the screen, and what was rounded at first grows with the picture.
    const off = 0.51 * (1 + placed.width / first.width);
    expect(Math.abs(now.x - under.x) * placed.width).toBeLessThanOrEqual(off);
    expect(Math.abs(now.y - under.y) * placed.height).toBeLessThanOrEqual(off);
  }
});

test("zooming ends where nothing more is to be seen", () => {
  expect(zoomAt(FITTED, PART, HD, 0, 0, 1e9).factor).toBe(64);
  expect(zoomAt(FITTED, PART, HD, 0, 0, 1e-9).factor).toBe(1 / 64);
});

test("dragging moves the picture by as much", () => {
  const zoom = zoomAt(FITTED, PART, HD, 500, 250, 4);
  const [before, after] = [placeOf(zoom, PART, HD), placeOf(movedBy(zoom, PART, HD, 30, -20), PART, HD)];
  expect([after.left - before.left, after.top - before.top]).toEqual([30, -20]);
});

test("the pixel under the pointer, and none beside the picture", () => {
  const placed = placeOf({ factor: 10, x: 0.5, y: 0.5 }, PART, SMALL);
  expect(placed).toMatchObject({ left: -700, top: -425 });
  expect(pixelAt(placed, SMALL, 0, 0)).toEqual({ x: 70, y: 42 });
  expect(pixelAt(placed, SMALL, 9, 4)).toEqual({ x: 70, y: 42 });
  expect(pixelAt(placed, SMALL, 10, 5)).toEqual({ x: 71, y: 43 });
  expect(pixelAt({ ...placed, left: 10 }, SMALL, 9, 5)).toBeNull();
});
