"use client";
/**
 * The picture on its grey surround, painted by WebGL2; zoomed by the wheel to the pointer and moved by dragging. What is
 * painted is put together here from what the player shows and what a person wants to see; nothing of it waits for React
 * while something plays.
 */
import { Box, Flex, Text } from "@chakra-ui/react";
import {
  type PointerEvent,
  type ReactNode,
  type RefObject,
  useEffect,
  useImperativeHandle,
  useRef,
  useState,
} from "react";
import type { FindingPlace } from "@/contract/sequence-view";
import { type Look, type Reading, usedReading } from "@/core/playback/shown-as";
import type { Wipe } from "@/core/playback/shown-pixel";
import {
  factorOf,
  FITTED,
  GRID_FROM,
  movedBy,
  partAt,
  pixelAt,
  type Placed,
  type Size,
  zoomAt,
  type Zoom,
} from "@/core/playback/zoom";
import { type Arrangement, panesOf, wholeOf } from "./arrangement";
import { type Painted, Painter, type Painting, type Pane } from "./gl/painter";
import { isPlainPainting, paintPlainly } from "./gl/plain-painter";
import type { Shown, ShownPicture } from "./player";

/** A factor a notch of the wheel. */
const WHEEL_STEP = 1.25;
/** Pixels of the page that the pointer may be off the wipe's line and still take it. */
const REACH = 14;
/** Between two pictures that blink, in milliseconds. */
const BLINK_MS = 500;

export interface SurfaceHandle {
  /** Called by the player on the screen's refresh. */
  readonly show: (shown: Shown) => void;
  /** What is on show, as it is shown. */
  readonly asPicture: () => Promise<Blob | null>;
  /** The first picture that is on show. */
  readonly first: () => Painted | null;
  /** Null where the browser has no WebGL2. */
  readonly painter: () => Painter | null;
  /** Everything to fit again. */
  readonly fit: () => void;
  /** Enlarged around the middle. */
  readonly enlarge: (by: number) => void;
}

/** A pixel of a layer under the pointer. */
export interface Pointed {
  readonly x: number;
  readonly y: number;
  readonly layers: readonly (Painted | null)[];
  /** Reads numbers of a layer's file, as 8-bit integers where it is such. */
  readonly painter: Painter;
}

export interface PictureSurfaceProps {
  readonly handle: RefObject<SurfaceHandle | null>;
  /** Pictures that are shown together. */
  readonly layers: number;
  /** The second and the third are the frames before and after the first, and shine through it. */
  readonly isOnion?: boolean;
  /** How the numbers of a layer's picture are read, at a place. The same function as long as nothing changes. */
  readonly readingOf: (layer: number, place: number) => Reading;
  readonly look: Look;
  readonly arrangement: Arrangement;
  readonly wipe: Wipe;
  readonly onWipe: (wipe: Wipe) => void;
  readonly gain: number;
  /** For screen readers. */
  readonly label: string;
  /** In the place of a picture that there is none of. */
  readonly cardOf: (shown: ShownPicture, place: number) => string | null;
  readonly onPoint: (pointed: Pointed | null) => void;
  /** Kept by whoever opened the viewer: the same crop for every frame. */
  readonly zoom: Zoom;
  readonly onZoom: (zoom: Zoom) => void;
  /** Dragging draws a rectangle, in place of moving the picture. */
  readonly isDrawing: boolean;
  /** Rectangles on the picture: what is being drawn, and where findings are. */
  readonly rectangles: readonly { readonly place: FindingPlace; readonly label: string }[];
  /** What is drawn so far, and whether it is done. */
  readonly onDraw: (place: FindingPlace, isDone: boolean) => void;
  readonly children?: ReactNode;
}

/** How large a pixel of the picture is on the screen. */
const factorText = (factor: number): string =>
  factor === 1
    ? "pixel for pixel"
    : factor > 1
      ? `${Number(factor.toFixed(2))} x enlarged`
      : `at ${Math.round(factor * 100)} %`;

/** Colour of the surround as the theme has it, 0 to 1. */
function surroundOf(element: HTMLElement): readonly [number, number, number] {
  const [r, g, b] = (/(\d+)\D+(\d+)\D+(\d+)/.exec(getComputedStyle(element).backgroundColor) ?? [])
    .slice(1)
    .map((part) => Number(part) / 255);
  return [r ?? 0.4, g ?? 0.4, b ?? 0.4];
}

/** How a loaded picture is read: what the browser decoded itself is display values, whatever its neighbours hold. */
function paintedOf(picture: ShownPicture | undefined, reading: Reading, look: Look): Painted | null {
  if (picture?.pixels == null) return null;
  const used = usedReading(reading, look);
  const isDisplay = picture.pixels.kind === "bytes" && look.view === null && !reading.holdsInBytes;
  return { pixels: picture.pixels, view: isDisplay ? "plain" : used.view, alpha: used.alpha };
}

export function PictureSurface(props: PictureSurfaceProps) {
  const { handle, label, onZoom, onWipe, onPoint, children } = props;
  const place = useRef<HTMLDivElement>(null);
  const canvas = useRef<HTMLCanvasElement>(null);
  const latest = useRef(props);
  latest.current = props;
  const plainCanvas = useRef<HTMLCanvasElement>(null);
  /** What the pointer is on, whichever canvas lies under it. */
  const glass = useRef<HTMLDivElement>(null);
  const painter = useRef<Painter | null>(null);
  const shown = useRef<Shown | null>(null);
  const panes = useRef<readonly Pane[]>([]);
  const layers = useRef<readonly (Painted | null)[]>([]);
  /** Where the first picture lies on the page, for what is drawn over it. */
  const [lies, setLies] = useState<Placed | null>(null);
  /** Of the last picture that was there: a gap keeps its place. */
  const usual = useRef<Size>({ width: 960, height: 540 });
  const blink = useRef(0);
  const [state, setState] = useState<"painting" | "lost" | "none">("painting");
  const [card, setCard] = useState<string | null>(null);
  const [isShown, setShown] = useState(false);
  const [size, setSize] = useState("");
  const [isPlain, setPlain] = useState(true);
  /** What is wanted takes the graphics. */
  const [needsShader, setNeedsShader] = useState(false);

  const draw = (): void => {
    const [surface, shaded, plain] = [place.current, canvas.current, plainCanvas.current];
    if (surface === null || shaded === null || plain === null) return;
    const { readingOf, look, arrangement, wipe, gain, zoom, cardOf } = latest.current;
    const ratio = window.devicePixelRatio || 1;
    const screen = {
      width: Math.max(1, Math.round(surface.clientWidth * ratio)),
      height: Math.max(1, Math.round(surface.clientHeight * ratio)),
    };
    const pictures = shown.current?.layers ?? [];
    // The picture of before stays until the next is there: nothing flashes.
    layers.current = pictures.map((picture, i) => {
      const painted = paintedOf(picture, readingOf(i, picture.place), look);
      const isOnItsWay = painted === null && !picture.isMissing && picture.why === null;
      return painted ?? (isOnItsWay ? (layers.current[i] ?? null) : null);
    });
    usual.current = layers.current.map(wholeOf).find((one) => one !== null) ?? usual.current;
    panes.current = panesOf({
      layers: layers.current,
      isOnion: latest.current.isOnion === true,
      arrangement,
      zoom,
      screen,
      blinkLayer: blink.current,
      usual: usual.current,
    });
    const painting: Painting = {
      ...screen,
      panes: panes.current,
      look,
      wipe,
      gain,
      // Only where somebody has come near: a small picture that fits is no drawing of squares.
      hasGrid: zoom.factor !== null && factorOf(zoom, panes.current[0]!.part, usual.current) >= GRID_FROM,
      surround: surroundOf(surface),
      ratio,
    };
    const isPlainNow = isPlainPainting(painting) || painter.current === null || painter.current.isLost;
    if (isPlainNow) paintPlainly(plain, painting);
    else painter.current!.paint(painting);
    // At once, and not when React comes to it: the other one holds an older picture.
    plain.style.visibility = isPlainNow ? "visible" : "hidden";
    shaded.style.visibility = isPlainNow ? "hidden" : "visible";
    setPlain(isPlainNow);
    setNeedsShader(!isPlainPainting(painting));
    const [pane] = panes.current;
    const next = {
      left: (pane!.part.left + pane!.place.left) / ratio,
      top: (pane!.part.top + pane!.place.top) / ratio,
      width: pane!.place.width / ratio,
      height: pane!.place.height / ratio,
    };
    setLies((before) => (JSON.stringify(before) === JSON.stringify(next) ? before : next));
    const first = pictures[0];
    setCard(first === undefined ? null : cardOf(first, shown.current!.place));
    setShown(first?.pixels != null);
    const { width, height } = usual.current;
    const factor = factorOf(zoom, panes.current[0]!.part, usual.current);
    const over = first?.pixels == null ? 1 : Math.round(first.pixels.wholeWidth / first.pixels.width);
    setSize(
      first?.pixels == null
        ? ""
        : [`${width} x ${height}`, factorText(factor), over > 1 ? `1/${over} in motion` : null]
            .filter((part) => part !== null)
            .join(", "),
    );
  };
  const drawNow = useRef(draw);
  drawNow.current = draw;

  useEffect(() => {
    const element = canvas.current!;
    painter.current = Painter.open(element, (isLost) => {
      setState(isLost ? "lost" : "painting");
      if (!isLost) drawNow.current();
    });
    if (painter.current === null) setState("none");
    const observer = new ResizeObserver(() => drawNow.current());
    observer.observe(place.current!);
    return () => {
      observer.disconnect();
      painter.current?.close();
      painter.current = null;
    };
  }, []);
  // Whatever has changed of what is wanted; what plays is painted by the player.
  const { readingOf, look, arrangement, wipe, gain, zoom } = props;
  useEffect(() => drawNow.current(), [readingOf, look, arrangement, wipe, gain, zoom]);
  const isBlinking = props.arrangement === "blink" && props.layers > 1 && props.isOnion !== true;
  useEffect(() => {
    if (!isBlinking) return;
    const timer = setInterval(() => {
      blink.current++;
      drawNow.current();
    }, BLINK_MS);
    return () => clearInterval(timer);
  }, [isBlinking]);

  const partUnder = (x: number, y: number): Pane | null =>
    panes.current.find(
      ({ part }) =>
        x >= part.left && y >= part.top && x < part.left + part.width && y < part.top + part.height,
    ) ?? null;
  /** Pixels of the drawing buffer, from its corner. */
  const at = (event: { clientX: number; clientY: number }): { x: number; y: number } => {
    const box = glass.current!.getBoundingClientRect();
    const ratio = window.devicePixelRatio || 1;
    return { x: (event.clientX - box.left) * ratio, y: (event.clientY - box.top) * ratio };
  };
  const zoomBy = (x: number, y: number, by: number): void => {
    const pane = partUnder(x, y);
    if (pane === null) return;
    const { part } = pane;
    onZoom(zoomAt(latest.current.zoom, part, usual.current, x - part.left, y - part.top, by));
  };
  const zoomNow = useRef(zoomBy);
  zoomNow.current = zoomBy;

  useEffect(() => {
    const element = glass.current!;
    // Not passive: the page must not scroll.
    const onWheel = (event: WheelEvent): void => {
      event.preventDefault();
      const { x, y } = at(event);
      zoomNow.current(x, y, event.deltaY < 0 ? WHEEL_STEP : 1 / WHEEL_STEP);
    };
    element.addEventListener("wheel", onWheel, { passive: false });
    return () => element.removeEventListener("wheel", onWheel);
  }, []);

  useImperativeHandle(handle, () => ({
    show: (next) => {
      shown.current = next;
      drawNow.current();
    },
    asPicture: () =>
      new Promise((resolve) => {
        drawNow.current();
        const shown = plainCanvas.current!.style.visibility === "visible" ? plainCanvas : canvas;
        shown.current!.toBlob(resolve, "image/png");
      }),
    first: () => layers.current[0] ?? null,
    painter: () => painter.current,
    fit: () => onZoom(FITTED),
    enlarge: (by) => {
      const ratio = window.devicePixelRatio || 1;
      const { clientWidth, clientHeight } = glass.current!;
      zoomNow.current((clientWidth * ratio) / 2, (clientHeight * ratio) / 2, by);
    },
  }));

  const drag = useRef<{ readonly what: "picture" | "wipe" | "rectangle"; x: number; y: number } | null>(null);
  /** From where the drag began to where the pointer is, inside the picture. */
  const drawnTo = (event: PointerEvent<HTMLDivElement>): FindingPlace | null => {
    const [pane] = panes.current;
    if (pane === undefined || drag.current === null) return null;
    const inside = (x: number, y: number): { x: number; y: number } => {
      const part = partAt(pane.place, x - pane.part.left, y - pane.part.top);
      return { x: Math.min(1, Math.max(0, part.x)), y: Math.min(1, Math.max(0, part.y)) };
    };
    const here = at(event);
    const [from, to] = [inside(drag.current.x, drag.current.y), inside(here.x, here.y)];
    return {
      left: Math.min(from.x, to.x),
      top: Math.min(from.y, to.y),
      width: Math.abs(to.x - from.x),
      height: Math.abs(to.y - from.y),
    };
  };
  /** By how many pixels of the buffer a place is off the wipe's line. */
  const offWipe = (x: number, y: number): number => {
    const [pane] = panes.current;
    if (pane?.meeting !== "wipe") return Infinity;
    const { wipe } = latest.current;
    const angle = (wipe.degrees * Math.PI) / 180;
    const dx = x - pane.part.left - pane.place.left - wipe.x * pane.place.width;
    const dy = y - pane.part.top - pane.place.top - wipe.y * pane.place.height;
    return Math.abs(dx * Math.cos(angle) + dy * Math.sin(angle));
  };
  const onPointerDown = (event: PointerEvent<HTMLDivElement>): void => {
    if (event.button !== 0) return;
    event.currentTarget.setPointerCapture(event.pointerId);
    const { x, y } = at(event);
    const ratio = window.devicePixelRatio || 1;
    const what = latest.current.isDrawing ? "rectangle" : offWipe(x, y) < REACH * ratio ? "wipe" : "picture";
    drag.current = { what, x, y };
  };
  const onPointerMove = (event: PointerEvent<HTMLDivElement>): void => {
    const { x, y } = at(event);
    const pane = partUnder(x, y);
    const going = drag.current;
    if (going?.what === "rectangle") {
      const drawn = drawnTo(event);
      if (drawn !== null) latest.current.onDraw(drawn, false);
      return;
    }
    if (going !== null && panes.current[0] !== undefined) {
      if (going.what === "wipe") {
        const { part, place: lies } = panes.current[0];
        const to = partAt(lies, x - part.left, y - part.top);
        const inside = (value: number): number => Math.min(1, Math.max(0, value));
        onWipe({ ...latest.current.wipe, x: inside(to.x), y: inside(to.y) });
      } else
        onZoom(movedBy(latest.current.zoom, panes.current[0].part, usual.current, x - going.x, y - going.y));
      drag.current = { ...going, x, y };
      return;
    }
    const pixel =
      pane === null ? null : pixelAt(pane.place, usual.current, x - pane.part.left, y - pane.part.top);
    onPoint(
      pixel === null || painter.current === null
        ? null
        : { ...pixel, layers: layers.current, painter: painter.current },
    );
  };
  const endDrag = (event: PointerEvent<HTMLDivElement>): void => {
    const drawn = drag.current?.what === "rectangle" ? drawnTo(event) : null;
    drag.current = null;
    if (drawn !== null) latest.current.onDraw(drawn, true);
  };

  return (
    <Flex
      ref={place}
      flex="1"
      minH="0"
      bg="surround"
      align="center"
      justify="center"
      position="relative"
      overflow="hidden"
    >
      <Box
        ref={glass}
        position="absolute"
        inset="0"
        touchAction="none"
        cursor={props.isDrawing ? "crosshair" : "default"}
        onPointerDown={onPointerDown}
        onPointerMove={onPointerMove}
        onPointerUp={endDrag}
        onPointerCancel={endDrag}
        onPointerLeave={() => onPoint(null)}
        onDoubleClick={() => onZoom(FITTED)}
      >
        {([plainCanvas, canvas] as const).map((ref) => (
          <canvas
            key={ref === canvas ? "shaded" : "plain"}
            ref={ref}
            // The one that is on show is the picture.
            {...((ref === plainCanvas) === isPlain
              ? { role: "img", "aria-label": label, "data-shown": isShown }
              : { "aria-hidden": true })}
            style={{ position: "absolute", inset: 0, width: "100%", height: "100%" }}
          />
        ))}
      </Box>
      {lies !== null &&
        props.rectangles.map(({ place: { left, top, width, height }, label: text }) => (
          <Box
            key={`${left} ${top} ${width} ${height} ${text}`}
            position="absolute"
            left={`${lies.left + left * lies.width}px`}
            top={`${lies.top + top * lies.height}px`}
            width={`${width * lies.width}px`}
            height={`${height * lies.height}px`}
            borderWidth="1px"
            borderColor="onSurround"
            outline="1px solid"
            outlineColor="surround"
            pointerEvents="none"
            data-testid="rectangle"
            title={text}
          />
        ))}
      {(card !== null || (state !== "painting" && needsShader)) && (
        <Box
          position="relative"
          bg="surround"
          px="3"
          py="1"
          borderRadius="sm"
          pointerEvents="none"
          role="status"
        >
          <Text color="onSurround" fontSize="md">
            {card ??
              (state === "none"
                ? "This browser has no WebGL2: pictures of eight bits are shown as they are, and others not at all."
                : "The graphics were taken away from this page. The picture comes back by itself when they do.")}
          </Text>
        </Box>
      )}
      <Text
        position="absolute"
        bottom="1"
        right="3"
        color="onSurround"
        fontSize="xs"
        className="figures"
        pointerEvents="none"
        data-testid="picture-size"
      >
        {size}
      </Text>
      {children}
    </Flex>
  );
}
