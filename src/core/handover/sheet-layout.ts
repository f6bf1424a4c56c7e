/** Where the pictures of a contact sheet lie. Pixels, from the left and the top. */
import type { PictureSize } from "./line-up";

export interface SheetCell {
  /** Of the picture in the row of all. */
  readonly index: number;
  readonly left: number;
  readonly top: number;
}

export interface SheetPage {
  readonly width: number;
  readonly height: number;
  readonly cells: readonly SheetCell[];
}

export interface SheetLayout {
  /** Of each picture. */
  readonly cell: PictureSize;
  /** Of the line under it; 0 without captions. */
  readonly caption: number;
  readonly pages: readonly SheetPage[];
}

const GAP = 12;
const MARGIN = 24;
const TITLE = 40;
const CAPTION = 22;
/** Across the sheet, margins left out: what fits on paper and on a screen. */
const SHEET_WIDTH = 1_920;
/** A picture is not made larger than this. */
const LARGEST_CELL = 640;
/** A4, lying. */
const PAPER = Math.SQRT1_2;

/** Height of the head of each page. */
export const sheetTitle = { height: TITLE, left: MARGIN, top: MARGIN } as const;

/**
 * @param count of pictures
 * @param isPaged a page as high as paper is; else one page that is as high as it must be
 */
export function sheetLayout(
  count: number,
  picture: PictureSize,
  columns: number,
  hasCaptions: boolean,
  isPaged: boolean,
): SheetLayout {
  const across = Math.max(1, Math.min(columns, count));
  const width = Math.max(
    1,
    Math.min(LARGEST_CELL, picture.width, Math.floor((SHEET_WIDTH - (across - 1) * GAP) / across)),
  );
  const cell = { width, height: Math.max(1, Math.round((width * picture.height) / picture.width)) };
  const caption = hasCaptions ? CAPTION : 0;
  const step = { x: cell.width + GAP, y: cell.height + caption + GAP };
  const sheet = 2 * MARGIN + across * step.x - GAP;
  const rows = Math.max(1, Math.ceil(count / across));
  const fits = Math.max(1, Math.floor((sheet * PAPER - 2 * MARGIN - TITLE + GAP) / step.y));
  const rowsAPage = isPaged ? Math.min(fits, rows) : rows;
  const height = isPaged
    ? Math.max(Math.round(sheet * PAPER), 2 * MARGIN + TITLE + rowsAPage * step.y - GAP)
    : 2 * MARGIN + TITLE + rows * step.y - GAP;
  const pages: SheetPage[] = [];
  for (let first = 0; first < count; first += rowsAPage * across)
    pages.push({
      width: sheet,
      height,
      cells: Array.from({ length: Math.min(rowsAPage * across, count - first) }, (_, i) => ({
        index: first + i,
        left: MARGIN + (i % across) * step.x,
        top: MARGIN + TITLE + Math.floor(i / across) * step.y,
      })),
    });
  return { cell, caption, pages };
}
