/** Contact sheet: pictures in rows with their numbers, as one PNG, or as pages of a PDF. */
import fs from "node:fs/promises";
import { PDFDocument } from "pdf-lib";
import sharp, { type OverlayOptions } from "sharp";
import { sheetLayout, sheetTitle, type SheetLayout, type SheetPage } from "@/core/handover/sheet-layout";
import type { SheetSettings } from "@/core/handover/wish";
import { TallyError } from "../errors";
import { inOrder } from "../in-order";
import { setText } from "./burnt-text";
import type { Making } from "./making";
import type { Reel, ReelSlot } from "./reel";
import { smallPictures } from "./shown-jpeg";

/** More than anybody looks through on one sheet. */
const MOST_PICTURES = 2_000;
/** Sides of a PNG: what readers take. */
const MOST_HEIGHT = 16_384;
const PAPER = "#fbfaf7";
const QUALITY = 90;
const TITLE_LINE = 20;
const CAPTION_LINE = 14;
/** Points of A4, lying: its longer side. */
const PAPER_POINTS = 842;

/** Dark letters without what is around them. */
async function inked(text: string, line: number, widest: number): Promise<OverlayOptions> {
  const { width, height, coverage } = await setText(text, line, widest);
  const data = new Uint8Array(width * height * 4);
  for (let p = 0; p < width * height; p++) data.set([0x23, 0x26, 0x2b, coverage[p]!], p * 4);
  return { input: Buffer.from(data.buffer), raw: { width, height, channels: 4 } };
}

const captionOf = (slot: ReelSlot): string =>
  slot.kind === "picture" && slot.from !== slot.frame
    ? `${slot.frame}, held ${slot.from}`
    : String(slot.frame ?? "");

async function pageImage(
  reel: Reel,
  page: SheetPage,
  { cell, caption }: SheetLayout,
  small: readonly Buffer[],
  title: string,
): Promise<Buffer> {
  const laid: OverlayOptions[] = [
    {
      ...(await inked(title, TITLE_LINE, page.width - 2 * sheetTitle.left)),
      left: sheetTitle.left,
      top: sheetTitle.top,
    },
  ];
  for (const { index, left, top } of page.cells) {
    laid.push({ input: small[index]!, left, top });
    if (caption > 0)
      laid.push({
        ...(await inked(captionOf(reel.slots[index]!), CAPTION_LINE, cell.width)),
        left,
        top: top + cell.height,
      });
  }
  return sharp({ create: { width: page.width, height: page.height, channels: 3, background: PAPER } })
    .composite(laid)
    .png()
    .toBuffer();
}

/** @throws TallyError `handover-wrong` for more pictures than a sheet holds */
export async function writeSheet(
  reel: Reel,
  sheet: SheetSettings,
  temporary: string,
  making: Making,
): Promise<void> {
  if (reel.slots.length > MOST_PICTURES)
    throw new TallyError("handover-wrong", {
      message: `A sheet holds ${MOST_PICTURES} pictures at most; ${reel.slots.length} were asked for: take every n-th, such as 1-3000/10.`,
    }).at("frames");
  const isPaged = sheet.format === "pdf";
  const layout = sheetLayout(reel.slots.length, reel.size!, sheet.columns, sheet.hasCaptions, isPaged);
  if (layout.pages.some((page) => page.height > MOST_HEIGHT))
    throw new TallyError("handover-wrong", {
      message: `The sheet would be higher than ${MOST_HEIGHT} pixels: take more columns, fewer frames, or a PDF.`,
    }).at("columns");
  const pictures = smallPictures(reel, sheet, layout.cell, QUALITY);
  const small: Buffer[] = [];
  try {
    for await (const jpeg of inOrder(reel.slots.length, pictures.atOnce + 1, (n) =>
      pictures.of(reel.slots[n]!),
    )) {
      making.signal.throwIfAborted();
      small.push(jpeg);
      making.onProgress((small.length / reel.slots.length) * 0.9);
    }
  } finally {
    await pictures.close();
  }
  const title = (n: number): string =>
    `${reel.title}   ${reel.frames}${layout.pages.length > 1 ? `   ${n + 1} of ${layout.pages.length}` : ""}`;
  if (!isPaged) {
    await fs.writeFile(temporary, await pageImage(reel, layout.pages[0]!, layout, small, title(0)));
    return;
  }
  const pdf = await PDFDocument.create();
  pdf.setTitle(reel.title);
  for (const [n, page] of layout.pages.entries()) {
    making.signal.throwIfAborted();
    const image = await pdf.embedPng(await pageImage(reel, page, layout, small, title(n)));
    const size: [number, number] = [PAPER_POINTS, (PAPER_POINTS * page.height) / page.width];
    pdf.addPage(size).drawImage(image, { x: 0, y: 0, width: size[0], height: size[1] });
  }
  await fs.writeFile(temporary, await pdf.save());
}
