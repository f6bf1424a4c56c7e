"use client";
/**
 * Paints what needs no shader: pictures of eight bits that are shown as they are, each in a pane of its own. Where graphics
 * are computed by the processor this takes a tenth of the time, and most sequences are of this kind; and it is what is
 * left where a browser has no WebGL2, or has lost it.
 */
import type { Painted, Painting, Pane } from "./painter";

/** Texels a pixel of the screen, beyond which two are not enough to make one of. */
const MEDIUM_FROM = 1.2;

const isPlainPicture = (painted: Painted | null): boolean =>
  painted === null ||
  (painted.pixels.kind === "bytes" && painted.view === "plain" && painted.alpha === "none");

/** Whether everything in a painting can be painted without a shader. */
export const isPlainPainting = ({ panes, look, hasGrid }: Painting): boolean =>
  !hasGrid &&
  look.stops === 0 &&
  look.gamma === 1 &&
  look.channel === "colour" &&
  panes.every(({ a, meeting }) => meeting === "one" && isPlainPicture(a));

const cssColour = (colour: readonly number[]): string =>
  `rgb(${colour.map((part) => Math.round(part * 255)).join(" ")})`;

function paintPane(context: CanvasRenderingContext2D, { part, place, a }: Pane): void {
  if (a?.pixels.kind !== "bytes") return;
  const { bitmap, width } = a.pixels;
  // Closed when its memory was given back: the next one is on its way.
  if (bitmap.width === 0) return;
  const texels = width / place.width;
  context.save();
  context.beginPath();
  context.rect(part.left, part.top, part.width, part.height);
  context.clip();
  context.imageSmoothingEnabled = texels > 1;
  context.imageSmoothingQuality = texels > MEDIUM_FROM ? "medium" : "low";
  context.drawImage(bitmap, part.left + place.left, part.top + place.top, place.width, place.height);
  context.restore();
}

/** @param painting one that `isPlainPainting` is true of, or as much of another as can be seen so */
export function paintPlainly(canvas: HTMLCanvasElement, painting: Painting): void {
  const context = canvas.getContext("2d", { alpha: false });
  if (context === null) return;
  const { width, height } = painting;
  if (canvas.width !== width || canvas.height !== height) {
    canvas.width = width;
    canvas.height = height;
  }
  context.fillStyle = cssColour(painting.surround);
  context.fillRect(0, 0, width, height);
  for (const pane of painting.panes) paintPane(context, pane);
}
