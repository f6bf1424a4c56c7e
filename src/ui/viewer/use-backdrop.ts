"use client";
/** A picture of somebody's own behind transparent ones. It stays in this page: nothing is sent. */
import { useEffect, useState } from "react";
import type { LoadedPixels } from "@/contract/picture-messages";

/** Pixels a side: what is larger is made smaller, as it only shows through. */
const MOST_SIDE = 4096;

export interface Backdrop {
  /** Null until one is chosen. */
  readonly pixels: LoadedPixels | null;
  /** Of its file. */
  readonly name: string | null;
  /** Why the file that was chosen last cannot be used; the one of before stays. */
  readonly fault: string | null;
  readonly choose: (file: File) => void;
}

async function pixelsOf(file: File): Promise<LoadedPixels> {
  const whole = await createImageBitmap(file);
  const over = Math.max(1, whole.width / MOST_SIDE, whole.height / MOST_SIDE);
  const [width, height] = [whole.width, whole.height].map((side) => Math.max(1, Math.round(side / over)));
  const bitmap =
    over === 1 ? whole : await createImageBitmap(whole, { resizeWidth: width!, resizeHeight: height! });
  if (bitmap !== whole) whole.close();
  return {
    kind: "bytes",
    bitmap,
    width: width!,
    height: height!,
    wholeWidth: width!,
    wholeHeight: height!,
  };
}

export function useBackdrop(): Backdrop {
  const [chosen, setChosen] = useState<{ readonly pixels: LoadedPixels; readonly name: string } | null>(null);
  const [fault, setFault] = useState<string | null>(null);
  useEffect(() => {
    const pixels = chosen?.pixels;
    return () => {
      if (pixels?.kind === "bytes") pixels.bitmap.close();
    };
  }, [chosen]);
  return {
    pixels: chosen?.pixels ?? null,
    name: chosen?.name ?? null,
    fault,
    choose: (file) =>
      void pixelsOf(file).then(
        (pixels) => {
          setChosen({ pixels, name: file.name });
          setFault(null);
        },
        () => setFault(`${file.name} is no picture that this browser can read.`),
      ),
  };
}
