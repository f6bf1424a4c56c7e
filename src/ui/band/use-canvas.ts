/**
 * A canvas that is painted at most once an animation frame, sharp at any pixel density, in the inks of day or
 * night.
 */
import { useTheme } from "next-themes";
import { type RefObject, useEffect, useRef, useState } from "react";
import { type Palette, readPalette } from "../theme/ink";

export interface PaintedCanvas {
  /** For the canvas element. */
  readonly ref: RefObject<HTMLCanvasElement | null>;
  /** Width of the canvas in CSS pixels; 0 before it is laid out. */
  readonly width: number;
  /** Asks for a repaint with the newest `paintNow`. */
  readonly repaint: () => void;
}

/**
 * @param height CSS pixels; the width is what there is
 * @param paintNow is called with a cleared canvas, scaled to CSS pixels; the newest one counts
 */
export function useCanvas(
  height: number,
  paintNow: (canvas: CanvasRenderingContext2D, palette: Palette, width: number) => void,
): PaintedCanvas {
  const ref = useRef<HTMLCanvasElement>(null);
  const latest = useRef(paintNow);
  latest.current = paintNow;
  const due = useRef(0);
  const [width, setWidth] = useState(0);
  const { resolvedTheme } = useTheme();

  const repaint = useRef(() => {
    if (due.current !== 0) return;
    due.current = requestAnimationFrame(() => {
      due.current = 0;
      const canvas = ref.current;
      const context = canvas?.getContext("2d");
      if (!canvas || !context) return;
      const density = window.devicePixelRatio || 1;
      const wide = canvas.clientWidth;
      const high = canvas.clientHeight;
      if (canvas.width !== Math.round(wide * density) || canvas.height !== Math.round(high * density)) {
        canvas.width = Math.round(wide * density);
        canvas.height = Math.round(high * density);
      }
      context.setTransform(density, 0, 0, density, 0, 0);
      context.clearRect(0, 0, wide, high);
      latest.current(context, readPalette(canvas), wide);
    });
  }).current;

  useEffect(() => {
    const canvas = ref.current;
    if (canvas === null) return;
    const observer = new ResizeObserver(() => {
      setWidth(canvas.clientWidth);
      repaint();
    });
    observer.observe(canvas);
    // Labels are drawn with a web font: once more when it has come.
    void document.fonts.ready.then(repaint);
    return () => {
      observer.disconnect();
      cancelAnimationFrame(due.current);
      due.current = 0;
    };
  }, [repaint]);
  useEffect(repaint, [repaint, resolvedTheme, height]);
  // Every render of the component may have changed what is drawn.
  useEffect(repaint);
  return { ref, width, repaint };
}
