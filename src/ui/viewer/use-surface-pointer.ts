"use client";
/**
 * What the pointer does on the picture: the wheel and two fingers zoom to it, a drag moves the picture, the wipe's line,
 * or draws a rectangle, and what lies under it is told.
 */
import { type PointerEvent, type RefObject, useCallback, useEffect, useRef } from "react";
import type { FindingPlace } from "@/contract/sequence-view";
import { movedBy, partAt, pixelAt, zoomAt } from "@/core/playback/zoom";
import type { Pane } from "./gl/painter";
import type { PictureSurfaceProps } from "./surface-props";
import type { SurfacePainting } from "./use-painting";

/** A factor a notch of the wheel. */
const WHEEL_STEP = 1.25;
/** Pixels of the page that the pointer may be off the wipe's line and still take it. */
const REACH = 14;

/** In pixels of the drawing buffer. */
interface Point {
  readonly x: number;
  readonly y: number;
}

interface Drag extends Point {
  readonly what: "picture" | "wipe" | "rectangle";
}

export interface SurfacePointer {
  readonly onPointerDown: (event: PointerEvent<HTMLDivElement>) => void;
  readonly onPointerMove: (event: PointerEvent<HTMLDivElement>) => void;
  readonly onPointerUp: (event: PointerEvent<HTMLDivElement>) => void;
  readonly onPointerCancel: (event: PointerEvent<HTMLDivElement>) => void;
  /** Around the middle. */
  readonly enlarge: (by: number) => void;
}

const inside = (value: number): number => Math.min(1, Math.max(0, value));

const isIn = ({ part }: Pane, { x, y }: Point): boolean =>
  x >= part.left && y >= part.top && x < part.left + part.width && y < part.top + part.height;

/** Of the picture of a pane, from 0 to 1. */
function partUnder({ part, place }: Pane, { x, y }: Point): Point {
  const at = partAt(place, x - part.left, y - part.top);
  return { x: inside(at.x), y: inside(at.y) };
}

/** By how many pixels a point is off the wipe's line. */
function offWipe({ part, place, meeting }: Pane, wipe: PictureSurfaceProps["wipe"], { x, y }: Point): number {
  if (meeting !== "wipe") return Infinity;
  const angle = (wipe.degrees * Math.PI) / 180;
  const dx = x - part.left - place.left - wipe.x * place.width;
  const dy = y - part.top - place.top - wipe.y * place.height;
  return Math.abs(dx * Math.cos(angle) + dy * Math.sin(angle));
}

/** Between two corners. */
function rectangleOf(one: Point, other: Point): FindingPlace {
  return {
    left: Math.min(one.x, other.x),
    top: Math.min(one.y, other.y),
    width: Math.abs(one.x - other.x),
    height: Math.abs(one.y - other.y),
  };
}

/** @param glass what the pointer is on, whichever canvas lies under it */
export function useSurfacePointer(
  props: PictureSurfaceProps,
  glass: RefObject<HTMLDivElement | null>,
  { onShow, painter }: Pick<SurfacePainting, "onShow" | "painter">,
): SurfacePointer {
  const latest = useRef(props);
  latest.current = props;
  const drag = useRef<Drag | null>(null);
  /** Fingers, and whatever else is pressed on it. */
  const pressed = useRef(new Map<number, Point>());

  const at = (event: { readonly clientX: number; readonly clientY: number }): Point => {
    const box = glass.current!.getBoundingClientRect();
    const ratio = window.devicePixelRatio || 1;
    return { x: (event.clientX - box.left) * ratio, y: (event.clientY - box.top) * ratio };
  };
  const zoomBy = useCallback(
    (point: Point, by: number): void => {
      const pane = onShow.current.panes.find((one) => isIn(one, point));
      if (pane === undefined) return;
      const { zoom, onZoom } = latest.current;
      const { part } = pane;
      onZoom(zoomAt(zoom, part, onShow.current.usual, point.x - part.left, point.y - part.top, by));
    },
    [onShow],
  );
  useEffect(() => {
    const element = glass.current!;
    // Not passive: the page must not scroll.
    const onWheel = (event: WheelEvent): void => {
      event.preventDefault();
      const box = element.getBoundingClientRect();
      const ratio = window.devicePixelRatio || 1;
      zoomBy(
        { x: (event.clientX - box.left) * ratio, y: (event.clientY - box.top) * ratio },
        event.deltaY < 0 ? WHEEL_STEP : 1 / WHEEL_STEP,
      );
    };
    element.addEventListener("wheel", onWheel, { passive: false });
    return () => element.removeEventListener("wheel", onWheel);
  }, [glass, zoomBy]);

  const drawnTo = (point: Point): FindingPlace | null => {
    const [pane] = onShow.current.panes;
    if (pane === undefined || drag.current === null) return null;
    return rectangleOf(partUnder(pane, drag.current), partUnder(pane, point));
  };
  const dragTo = (going: Drag, point: Point): void => {
    const { zoom, onZoom, wipe, onWipe, onDraw } = props;
    const [pane] = onShow.current.panes;
    if (pane === undefined) return;
    switch (going.what) {
      case "rectangle": {
        const drawn = drawnTo(point);
        if (drawn !== null) onDraw(drawn, false);
        return;
      }
      case "wipe":
        onWipe({ ...wipe, ...partUnder(pane, point) });
        break;
      case "picture":
        onZoom(movedBy(zoom, pane.part, onShow.current.usual, point.x - going.x, point.y - going.y));
    }
    drag.current = { ...going, ...point };
  };
  const pointTo = (point: Point): void => {
    const { layers, usual, panes } = onShow.current;
    const pane = panes.find((one) => isIn(one, point));
    const pixel =
      pane === undefined
        ? null
        : pixelAt(pane.place, usual, point.x - pane.part.left, point.y - pane.part.top);
    const reader = painter.current;
    props.onPoint(pixel === null || reader === null ? null : { ...pixel, layers, painter: reader });
  };
  /** Two fingers: as far as they draw apart, about where they are. */
  const pinch = (id: number, point: Point): void => {
    const before = [...pressed.current.values()];
    pressed.current.set(id, point);
    const now = [...pressed.current.values()];
    const apart = ([one, other]: readonly Point[]): number =>
      Math.hypot(one!.x - other!.x, one!.y - other!.y);
    if (apart(before) === 0) return;
    const middle = { x: (now[0]!.x + now[1]!.x) / 2, y: (now[0]!.y + now[1]!.y) / 2 };
    zoomBy(middle, apart(now) / apart(before));
  };
  const end = (event: PointerEvent<HTMLDivElement>): void => {
    pressed.current.delete(event.pointerId);
    const drawn = drag.current?.what === "rectangle" ? drawnTo(at(event)) : null;
    drag.current = null;
    if (drawn !== null) props.onDraw(drawn, true);
  };
  return {
    onPointerDown: (event) => {
      if (event.button !== 0) return;
      event.currentTarget.setPointerCapture(event.pointerId);
      const point = at(event);
      pressed.current.set(event.pointerId, point);
      if (pressed.current.size > 1) {
        drag.current = null;
        return;
      }
      const [pane] = onShow.current.panes;
      const reach = REACH * (window.devicePixelRatio || 1);
      const isOnLine = pane !== undefined && offWipe(pane, props.wipe, point) < reach;
      drag.current = { ...point, what: props.isDrawing ? "rectangle" : isOnLine ? "wipe" : "picture" };
    },
    onPointerMove: (event) => {
      const point = at(event);
      if (pressed.current.size === 2 && pressed.current.has(event.pointerId)) pinch(event.pointerId, point);
      else if (drag.current === null) pointTo(point);
      else dragTo(drag.current, point);
    },
    onPointerUp: end,
    onPointerCancel: end,
    enlarge: (by) => {
      const ratio = window.devicePixelRatio || 1;
      const { clientWidth, clientHeight } = glass.current!;
      zoomBy({ x: (clientWidth * ratio) / 2, y: (clientHeight * ratio) / 2 }, by);
    },
  };
}
