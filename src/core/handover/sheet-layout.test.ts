import { sheetLayout } from "./sheet-layout";

const HD = { width: 1920, height: 1080 };

test("every picture has a place of its own, in rows, inside its page", () => {
  const { cell, caption, pages } = sheetLayout(100, HD, 6, true, true);
  expect(pages.length).toBeGreaterThan(1);
  expect(pages.flatMap((p) => p.cells.map((c) => c.index))).toEqual(Array.from({ length: 100 }, (_, i) => i));
  for (const page of pages)
    for (const { left, top } of page.cells) {
      expect(left + cell.width).toBeLessThanOrEqual(page.width);
      expect(top + cell.height + caption).toBeLessThanOrEqual(page.height);
    }
  const places = pages[0]!.cells.map(({ left, top }) => `${left},${top}`);
  expect(new Set(places).size).toBe(places.length);
});

test("one page where it is not for paper, and pictures are never made larger than they are", () => {
  expect(sheetLayout(100, HD, 6, false, false).pages).toHaveLength(1);
  expect(sheetLayout(3, { width: 64, height: 48 }, 6, true, false).cell).toEqual({ width: 64, height: 48 });
  expect(sheetLayout(1, HD, 6, true, false).cell.width).toBe(640);
});

test("a picture that is very high still has a page", () => {
  const { pages } = sheetLayout(2, { width: 10, height: 4000 }, 1, true, true);
  expect(pages.map((p) => p.cells.length)).toEqual([1, 1]);
});
