import { advance, GAP_PATIENCE_MS } from "./event-cursor";

const start = { through: 10, waitingSince: null };

test("ids in a row are read through", () =>
  expect(advance(start, [11, 12, 13], 0)).toEqual({ through: 13, waitingSince: null }));

test("a gap holds the cursor until it fills", () => {
  const held = advance(start, [11, 13], 1000);
  expect(held).toEqual({ through: 11, waitingSince: 1000 });
  expect(advance(held, [13, 14], 2000)).toEqual({ through: 11, waitingSince: 1000 });
  expect(advance(held, [12, 13, 14], 3000)).toEqual({ through: 14, waitingSince: null });
});

test("a gap that stays open is given up after ten seconds, later gaps are not", () => {
  const held = advance(start, [12], 1000);
  expect(advance(held, [12, 14], 1000 + GAP_PATIENCE_MS)).toEqual({
    through: 12,
    waitingSince: 1000 + GAP_PATIENCE_MS,
  });
});

test("nothing new changes nothing", () => expect(advance(start, [], 5)).toEqual(start));
