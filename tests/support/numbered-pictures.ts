/** Pictures that carry their frame's number in black and white squares, and how it is read back from a canvas on a page. */
import fs from "node:fs/promises";
import path from "node:path";
import { rgb8 } from "@/core/image/pixels";
import { writePng } from "@/core/image/png-write";
import { imageTools } from "@/server/files/image-tools";
import type { Page } from "@playwright/test";
import { PLAN } from "./plan";

interface PictureSize {
  readonly width: number;
  readonly height: number;
}

/** Squares in the upper half of a picture, the lowest bit first. */
export const BITS = 10;

/** A grey that tells nothing, below the squares. */
const REST = 90;

/** Red, green and blue, rows from the top: squares above. */
export function numberedPixels(number: number, width: number, height: number): Uint8Array {
  const data = new Uint8Array(width * height * 3).fill(REST);
  const row = new Uint8Array(width * 3);
  for (let x = 0; x < width; x++)
    row.fill((number >> Math.floor((x * BITS) / width)) & 1 ? 255 : 0, x * 3, x * 3 + 3);
  for (let y = 0; y < height / 2; y++) data.set(row, y * width * 3);
  return data;
}

export const numberedPicture = (number: number, width: number, height: number): Uint8Array =>
  writePng(rgb8(width, height, numberedPixels(number, width, height)), {}, imageTools);

export const frameFile = (code: string, frame: number, ending = "png"): string =>
  `${code}.${String(frame).padStart(4, "0")}.${ending}`;

/** Puts frames that carry their own numbers into a folder. */
export async function layNumbered(
  folder: string,
  code: string,
  frames: readonly number[],
  { width, height }: PictureSize = PLAN,
): Promise<void> {
  await fs.mkdir(folder, { recursive: true });
  for (const frame of frames)
    await fs.writeFile(path.join(folder, frameFile(code, frame)), numberedPicture(frame, width, height));
}

/** What was seen at a refresh of the screen. */
export interface Seen {
  /** Milliseconds of the page's clock. */
  readonly at: number;
  /** Null where the canvas holds no such picture. */
  readonly number: number | null;
}

/**
 * Looks at the viewer's canvas at every refresh from now on. `window.seen` grows; `window.stopSeeing()` ends it.
 * @param size of the pictures, which lie in the middle as large as they fit
 */
export const watchCanvas = (page: Page, size: PictureSize): Promise<void> =>
  page.evaluate(
    ({ width, height, bits }) => {
      const eye = document.createElement("canvas");
      const seen: { at: number; number: number | null }[] = [];
      let isOn = true;
      const look = (): void => {
        if (!isOn) return;
        const shown = document.querySelector<HTMLCanvasElement>('[data-testid="look"] canvas[role=img]');
        if (shown !== null) {
          const fit = Math.min((shown.width - 16) / width, (shown.height - 16) / height);
          const factor = fit >= 1 ? Math.floor(fit) : fit;
          const [w, h] = [width * factor, height * factor];
          eye.width = bits;
          eye.height = 1;
          const context = eye.getContext("2d", { willReadFrequently: true })!;
          // One pixel of each square: its middle.
          for (let bit = 0; bit < bits; bit++)
            context.drawImage(
              shown,
              Math.round(shown.width / 2 - w / 2 + ((bit + 0.5) * w) / bits),
              Math.round(shown.height / 2 - h / 2 + h / 4),
              1,
              1,
              bit,
              0,
              1,
              1,
            );
          const { data } = context.getImageData(0, 0, bits, 1);
          let number: number | null = 0;
          for (let bit = 0; bit < bits && number !== null; bit++) {
            const value = data[bit * 4]!;
            number = value > 200 ? number | (1 << bit) : value < 55 ? number : null;
          }
          seen.push({ at: performance.now(), number });
        }
        requestAnimationFrame(look);
      };
      requestAnimationFrame(look);
      Object.assign(window, {
        seen,
        stopSeeing: () => {
          isOn = false;
          return seen;
        },
      });
    },
    { ...size, bits: BITS },
  );

declare global {
  interface Window {
    seen: Seen[];
    stopSeeing: () => Seen[];
  }
}

/** Numbers in the order in which they came on show, each once as long as it stays. */
export const changesOf = (
  seen: readonly Seen[],
): readonly { readonly at: number; readonly number: number }[] =>
  seen.filter(
    (one, i): one is { at: number; number: number } =>
      one.number !== null && one.number !== seen[i - 1]?.number,
  );
