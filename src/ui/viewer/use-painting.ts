"use client";
/**
 * What is on show, painted. The record of what is painted is put together from what the player shows and from what a
 * person wants to see, and goes to the shader or, where none is needed, to the plain painter. Nothing of it waits for
 * React while something plays: React only hears what the page says beside the picture.
 */
import { useTheme } from "next-themes";
import { type RefObject, useCallback, useEffect, useRef, useState } from "react";
import { factorOf, GRID_FROM, type Placed, type Size, type Zoom } from "@/core/playback/zoom";
import { panesOf, wholeOf } from "./arrangement";
import { type Painted, Painter, type Painting, type Pane } from "./gl/painter";
import { isPlainPainting, paintPlainly } from "./gl/plain-painter";
import { paintedOf, surroundOf } from "./painted-of";
import type { Shown, ShownPicture } from "./player";
import type { PictureSurfaceProps } from "./surface-props";

/** Between two pictures that blink, in milliseconds. */
const BLINK_MS = 500;

/** What the page says of what is painted. */
export interface PaintedFacts {
  /** Where the first picture lies on the page, for what is drawn over it. */
  readonly lies: Placed | null;
  /** In the place of a picture that there is none of. */
  readonly card: string | null;
  /** The first picture is there. */
  readonly isShown: boolean;
  /** Size and enlargement of the first. */
  readonly size: string;
  /** Painted without the shader. */
  readonly isPlain: boolean;
  /** What is wanted takes the graphics. */
  readonly needsShader: boolean;
}

const NOTHING_PAINTED: PaintedFacts = {
  lies: null,
  card: null,
  isShown: false,
  size: "",
  isPlain: true,
  needsShader: false,
};

/** Of the painting on show; changes without React. */
export interface OnShow {
  shown: Shown | null;
  layers: readonly (Painted | null)[];
  panes: readonly Pane[];
  /** Of the last picture that was there: a gap keeps its place. */
  usual: Size;
  blink: number;
  /** Colour around the pictures, 0 to 1; read again when the theme changes. */
  surround: Painting["surround"] | null;
}

export interface SurfacePainting {
  /** What the canvases lie in. */
  readonly surface: RefObject<HTMLDivElement | null>;
  /** Painted by the shader. */
  readonly shaded: RefObject<HTMLCanvasElement | null>;
  readonly plain: RefObject<HTMLCanvasElement | null>;
  readonly facts: PaintedFacts;
  /** Of the graphics: `lost` comes back, `none` is a browser without WebGL2. */
  readonly graphics: "there" | "lost" | "none";
  readonly onShow: RefObject<OnShow>;
  readonly painter: RefObject<Painter | null>;
  readonly show: (shown: Shown) => void;
  readonly draw: () => void;
}

/** How large a pixel of the picture is on the screen. */
const factorText = (factor: number): string =>
  factor === 1
    ? "pixel for pixel"
    : factor > 1
      ? `${Number(factor.toFixed(2))} x enlarged`
      : `at ${Math.round(factor * 100)} %`;

/** The picture of before stays until the next is there: nothing flashes. */
function nextLayers(onShow: OnShow, { readingOf, look }: PictureSurfaceProps): OnShow["layers"] {
  return (onShow.shown?.layers ?? []).map((picture, i) => {
    const painted = paintedOf(picture.pixels, readingOf(i, picture.place), look);
    const isOnItsWay = painted === null && !picture.isMissing && picture.why === null;
    return painted ?? (isOnItsWay ? (onShow.layers[i] ?? null) : null);
  });
}

function sizeText(first: ShownPicture | undefined, zoom: Zoom, pane: Pane, whole: Size): string {
  if (first?.pixels == null) return "";
  const over = Math.round(first.pixels.wholeWidth / first.pixels.width);
  const parts = [`${whole.width} x ${whole.height}`, factorText(factorOf(zoom, pane.part, whole))];
  return [...parts, ...(over > 1 ? [`1/${over} in motion`] : [])].join(", ");
}

/** What the page says of a painting. */
function factsOf(
  onShow: OnShow,
  { zoom, cardOf }: PictureSurfaceProps,
  painting: Painting,
  isPlain: boolean,
): PaintedFacts {
  const pane = painting.panes[0]!;
  const first = onShow.shown?.layers[0];
  return {
    lies: {
      left: (pane.part.left + pane.place.left) / painting.ratio,
      top: (pane.part.top + pane.place.top) / painting.ratio,
      width: pane.place.width / painting.ratio,
      height: pane.place.height / painting.ratio,
    },
    card: first === undefined ? null : cardOf(first, onShow.shown!.place),
    isShown: first?.pixels != null,
    size: sizeText(first, zoom, pane, onShow.usual),
    isPlain,
    needsShader: !isPlainPainting(painting),
  };
}

export function usePainting(props: PictureSurfaceProps): SurfacePainting {
  const latest = useRef(props);
  latest.current = props;
  const surface = useRef<HTMLDivElement>(null);
  const shaded = useRef<HTMLCanvasElement>(null);
  const plain = useRef<HTMLCanvasElement>(null);
  const painter = useRef<Painter | null>(null);
  const onShow = useRef<OnShow>({
    shown: null,
    layers: [],
    panes: [],
    usual: { width: 960, height: 540 },
    blink: 0,
    surround: null,
  });
  const [facts, setFacts] = useState(NOTHING_PAINTED);
  const [graphics, setGraphics] = useState<SurfacePainting["graphics"]>("there");

  const draw = useCallback((): void => {
    const [place, canvas, simple] = [surface.current, shaded.current, plain.current];
    if (place === null || canvas === null || simple === null) return;
    const { look, arrangement, wipe, gain, zoom, isOnion, behind } = latest.current;
    const now = onShow.current;
    const ratio = window.devicePixelRatio || 1;
    const screen = {
      width: Math.max(1, Math.round(place.clientWidth * ratio)),
      height: Math.max(1, Math.round(place.clientHeight * ratio)),
    };
    now.layers = nextLayers(now, latest.current);
    now.usual = now.layers.map(wholeOf).find((one) => one !== null) ?? now.usual;
    now.surround ??= surroundOf(place);
    now.panes = panesOf({
      layers: now.layers,
      isOnion: isOnion === true,
      arrangement,
      zoom,
      screen,
      blinkLayer: now.blink,
      usual: now.usual,
    });
    const painting: Painting = {
      ...screen,
      panes: now.panes,
      look,
      behind,
      wipe,
      gain,
      // Only where somebody has come near: a small picture that fits is no drawing of squares.
      hasGrid: zoom.factor !== null && factorOf(zoom, now.panes[0]!.part, now.usual) >= GRID_FROM,
      surround: now.surround,
      ratio,
    };
    const isPlain = isPlainPainting(painting) || painter.current === null || painter.current.isLost;
    if (isPlain) paintPlainly(simple, painting);
    else painter.current!.paint(painting);
    // At once, and not when React comes to it: the other one holds an older picture.
    simple.style.visibility = isPlain ? "visible" : "hidden";
    canvas.style.visibility = isPlain ? "hidden" : "visible";
    const next = factsOf(now, latest.current, painting, isPlain);
    setFacts((before) => (JSON.stringify(before) === JSON.stringify(next) ? before : next));
  }, []);

  useEffect(() => {
    painter.current = Painter.open(shaded.current!, (isLost) => {
      setGraphics(isLost ? "lost" : "there");
      if (!isLost) draw();
    });
    if (painter.current === null) setGraphics("none");
    const observer = new ResizeObserver(draw);
    observer.observe(surface.current!);
    return () => {
      observer.disconnect();
      painter.current?.close();
      painter.current = null;
    };
  }, [draw]);
  const { resolvedTheme } = useTheme();
  useEffect(() => {
    // The page has its new colours once this round of effects is over.
    const id = requestAnimationFrame(() => {
      onShow.current.surround = null;
      draw();
    });
    return () => cancelAnimationFrame(id);
  }, [draw, resolvedTheme]);
  // Whatever has changed of what is wanted; what plays is painted by the player.
  const { readingOf, look, arrangement, wipe, gain, zoom, behind } = props;
  useEffect(draw, [draw, readingOf, look, arrangement, wipe, gain, zoom, behind]);
  const isBlinking = props.arrangement === "blink" && props.layers > 1 && props.isOnion !== true;
  useEffect(() => {
    if (!isBlinking) return;
    const timer = setInterval(() => {
      onShow.current.blink++;
      draw();
    }, BLINK_MS);
    return () => clearInterval(timer);
  }, [isBlinking, draw]);
  const show = useCallback(
    (shown: Shown): void => {
      onShow.current.shown = shown;
      draw();
    },
    [draw],
  );
  return { surface, shaded, plain, facts, graphics, onShow, painter, show, draw };
}
