/** What a person wants to see, brought to a picture that was loaded; and the grey around it. */
import type { LoadedPixels } from "@/contract/picture-messages";
import { type Look, type Reading, usedReading } from "@/core/playback/shown-as";
import type { Painted, Painting } from "./gl/painter";

/** How a loaded picture is read: what the browser decoded itself is display values, whatever its neighbours hold. */
export function paintedOf(pixels: LoadedPixels | null, reading: Reading, look: Look): Painted | null {
  if (pixels === null) return null;
  const used = usedReading(reading, look);
  const isDisplay = pixels.kind === "bytes" && look.view === null && !reading.holdsInBytes;
  return { pixels, view: isDisplay ? "plain" : used.view, alpha: used.alpha };
}

/** Colour that the theme gives an element, 0 to 1. */
export function surroundOf(element: HTMLElement): Painting["surround"] {
  const [r, g, b] = (/(\d+)\D+(\d+)\D+(\d+)/.exec(getComputedStyle(element).backgroundColor) ?? [])
    .slice(1)
    .map((part) => Number(part) / 255);
  return [r ?? 0.4, g ?? 0.4, b ?? 0.4];
}
