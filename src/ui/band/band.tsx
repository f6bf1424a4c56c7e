"use client";
/**
 * The tally band: every frame one stroke, drawn on one canvas, with a DOM grid behind it. It shows
 * and moves selection and focus; what is selected belongs to the page around it.
 */
import { Box, Button, Flex, HStack } from "@chakra-ui/react";
import { type ReactNode, useEffect, useId, useMemo, useRef, useState } from "react";
import type { FrameSet } from "@/core/frames/frame-set";
import type { Tally } from "@/core/tally/tally";
import type { FilesByFrame } from "../live/files-by-frame";
import type { SavedByFrame } from "../live/saved-by-frame";
import { liveState, subscribeLive } from "../live/live-store";
import { useShortPage } from "../page/use-short-page";
import { Tip } from "../theme/tip";
import { activityAt, makeBandData, resultAt } from "./band-data";
import { BandGrid, cellId } from "./band-grid";
import { drawLine, drawStrokes, drawWindowMark } from "./draw";
import { drawLanes, LANE_NAMES, laneFigures, type LaneName, MEASURED_LANES, type SoundLane } from "./lanes";
import {
  type BandWindow,
  clampWindow,
  firstWindow,
  LANE,
  layoutBand,
  OVERVIEW_LINE,
  positionAt,
  windowAround,
  zoomWindow,
} from "./layout";
import { type Mark, paint } from "./marks";
import { type Gesture, gestureOf, pick } from "./selection";
import { useMeasures } from "../live/use-measures";
import { useCanvas } from "./use-canvas";
import { useKept } from "./use-kept";
import { LaneChoice } from "./lane-choice";
import { FocusNote } from "./focus-note";

export interface BandProps {
  /** Where the window stood is remembered by it. */
  readonly sequenceId: number;
  /** The sequence that leases and progress are told under. */
  readonly leadId: number;
  /** Results and activities: what the strokes say. */
  readonly tally: Tally;
  /** Measures: what the lanes say. */
  readonly files: FilesByFrame;
  /** Of frames that were begun: how high their strokes are. */
  readonly saved: SavedByFrame;
  /** File numbers of each named stretch. */
  readonly markers: Readonly<Record<string, FrameSet>>;
  /** What the edit uses; null while no edit is known. */
  readonly used: FrameSet | null;
  /** Null: the shot has none. */
  readonly sound?: SoundLane | null;
  /** Frames that are odd and not judged; null: nobody asks now. */
  readonly odd?: FrameSet | null;
  /** Kept by the page. */
  readonly selection: FrameSet;
  /** Null before anything was pointed at. */
  readonly focus: number | null;
  readonly onSelect: (selection: FrameSet) => void;
  /** By click, drag and keys. */
  readonly onFocus: (frame: number) => void;
  /** By a double click. */
  readonly onLook: (frame: number) => void;
  /** Without lanes it is the scrubber of the viewer. */
  readonly withLanes?: boolean;
  /** Pictures that the viewer has in memory; null where none looks. */
  readonly loaded?: FrameSet | null;
  /** At the right end, beside the facts of the focused frame: its picture. */
  readonly picture?: ReactNode;
}

/** Right end: the focused frame, and the figures of the lanes. */
const GUTTER = 200;
/** Without lanes there are no figures to make room for. */
const SCRUBBER_GUTTER = 112;
/** A factor a click or a notch of the wheel. */
const ZOOM_STEP = 1.4;
/** Wheel pixels that move the window by its own width. */
const WHEEL_PAGE = 800;
/** Frames that an arrow key moves by with Shift. */
const WIDE_STEP = 10;

/** A gesture in progress: it is worked out from its beginning at each move, so that going back takes back. */
interface Drag {
  readonly gesture: Gesture;
  /** Where it began. */
  readonly from: number;
  /** What was selected then. */
  readonly before: FrameSet;
}

/** What a tab remembers may come from an earlier version of the page. */
const isWindow = (value: unknown): value is BandWindow =>
  typeof value === "object" &&
  value !== null &&
  Number.isFinite((value as BandWindow).start) &&
  Number.isFinite((value as BandWindow).count);
const isLanes = (value: unknown): value is LaneName[] | null =>
  value === null || (Array.isArray(value) && value.every((name) => LANE_NAMES.includes(name as LaneName)));
/** What is open until somebody chooses, the most telling first. */
const USUAL_LANES: readonly LaneName[] = [
  "odd",
  "seconds",
  "made by",
  "sound",
  "brightness",
  "the edit uses",
];
/** They have something to show before there is a frame. */
const NEED_NO_FILES: readonly LaneName[] = ["markers", "sound", "the edit uses"];
/** On a short page. */
const USUAL_LANES_SHORT = 2;

/**
 * Props are facts; what moves from moment to moment (progress) is read from the live store and painted
 * without React.
 */
export function Band({
  sequenceId,
  leadId,
  tally,
  files,
  saved,
  markers,
  used,
  sound = null,
  odd = null,
  selection,
  focus,
  onSelect,
  onFocus,
  onLook,
  withLanes = true,
  loaded = null,
  picture,
}: BandProps) {
  const id = useId();
  const data = useMemo(() => makeBandData(tally), [tally]);
  const total = data.index.count;
  const [kept, setWindow] = useKept<BandWindow>(`band-window-${sequenceId}`, isWindow, firstWindow(total));
  const [chosenLanes, setOpenLanes] = useKept<LaneName[] | null>("band-lanes", isLanes, null);
  const isShort = useShortPage();
  const window = clampWindow(kept, total);
  const known = withLanes
    ? LANE_NAMES.filter(
        (name) =>
          (name !== "markers" || Object.keys(markers).length > 0) &&
          (name !== "the edit uses" || used !== null) &&
          (name !== "sound" || sound !== null) &&
          (name !== "odd" || (odd !== null && odd.count > 0)) &&
          (files.index.count > 0 || NEED_NO_FILES.includes(name)),
      )
    : [];
  // What nobody chose folds by itself where room is short.
  const usual = USUAL_LANES.filter((name) => known.includes(name));
  const openLanes = chosenLanes ?? (isShort ? usual.slice(0, USUAL_LANES_SHORT) : usual);
  const lanes = known.filter((name) => openLanes.includes(name));
  const measures = useMeasures(
    sequenceId,
    lanes.some((name) => MEASURED_LANES.includes(name)),
  );
  const lanesOf = useMemo(
    () => ({ files, markers, used, sound, odd, measures }),
    [files, markers, used, sound, odd, measures],
  );
  const { height, hasOverview, lanesTop, strokeTop } = layoutBand(1000, window, total, lanes.length);
  const drag = useRef<Drag | null>(null);
  // Where Shift goes on from: the last plain click.
  const anchor = useRef<number | null>(null);
  // Drawn once a tally and width: a repaint for progress only copies it.
  const overview = useRef<{
    readonly key: object;
    readonly width: number;
    readonly marks: readonly Mark[];
  } | null>(null);
  const surface = useRef<HTMLDivElement>(null);
  const [isOnOverview, setOnOverview] = useState(false);

  const { ref, width, repaint } = useCanvas(height, (canvas, palette, wide) => {
    const layout = layoutBand(wide, window, total, lanes.length);
    const progress = new Map(
      liveState()
        .rendering.filter((r) => r.sequenceId === leadId && !r.isProof && !r.isLight)
        .map((r) => [r.frame, r.progress]),
    );
    if (hasOverview) {
      if (overview.current?.key !== data || overview.current.width !== wide)
        overview.current = { key: data, width: wide, marks: drawLine(data, wide, OVERVIEW_LINE) };
      paint(canvas, overview.current.marks, palette);
      paint(canvas, drawWindowMark(layout, total), palette);
    }
    paint(
      canvas,
      drawStrokes({
        data,
        layout,
        selection,
        focus,
        progress,
        savedShare: (frame) => saved.at(frame)?.share ?? null,
        loaded,
      }),
      palette,
    );
    paint(canvas, drawLanes(lanes, lanesOf, data, layout), palette);
  });
  // Progress is painted straight from the live state, without a render of React.
  useEffect(() => subscribeLive(repaint), [repaint]);

  const layout = layoutBand(width || 1000, window, total, lanes.length);
  const frameAtX = (clientX: number): number | null => {
    const box = ref.current?.getBoundingClientRect();
    return box === undefined || total === 0
      ? null
      : data.index.frameAt(positionAt(layout, clientX - box.left));
  };
  // The window follows the focus, just so far that it is inside.
  const moveFocus = (position: number): void => {
    const frame = data.index.frameAt(Math.max(0, Math.min(total - 1, position)));
    if (frame === null) return;
    onFocus(frame);
    setWindow(windowAround(window, data.index.positionOf(frame)!, total));
  };
  const apply = (gesture: Gesture, before: FrameSet, from: number, to: number): void => {
    const picked = pick(data.index.set, before, anchor.current, gesture, from, to);
    anchor.current = picked.anchor;
    onSelect(picked.selection);
    onFocus(to);
  };

  // React's wheel listener is passive; this one keeps the page from scrolling under the band.
  const onWheel = useRef<(event: WheelEvent) => void>(() => undefined);
  onWheel.current = (event) => {
    if (!hasOverview) return;
    event.preventDefault();
    const box = ref.current!.getBoundingClientRect();
    const overOverview = event.clientY - box.top < OVERVIEW_LINE;
    if (event.ctrlKey || event.metaKey || overOverview) {
      const about = overOverview
        ? window.start + window.count / 2
        : positionAt(layout, event.clientX - box.left);
      setWindow(zoomWindow(window, event.deltaY > 0 ? ZOOM_STEP : 1 / ZOOM_STEP, about, total));
    } else {
      const by = Math.abs(event.deltaX) > Math.abs(event.deltaY) ? event.deltaX : event.deltaY;
      setWindow(
        clampWindow(
          {
            ...window,
            start:
              window.start +
              Math.sign(by) * Math.max(1, Math.round((Math.abs(by) / WHEEL_PAGE) * window.count)),
          },
          total,
        ),
      );
    }
  };
  useEffect(() => {
    const element = surface.current;
    const listener = (event: WheelEvent): void => onWheel.current(event);
    element?.addEventListener("wheel", listener, { passive: false });
    return () => element?.removeEventListener("wheel", listener);
  }, []);

  const showOverviewAt = (clientX: number): void => {
    const box = ref.current!.getBoundingClientRect();
    setWindow(
      clampWindow({ ...window, start: ((clientX - box.left) / box.width) * total - window.count / 2 }, total),
    );
  };
  const onPointerDown = (event: React.PointerEvent): void => {
    if (event.button !== 0 || total === 0) return;
    event.currentTarget.setPointerCapture(event.pointerId);
    const box = ref.current!.getBoundingClientRect();
    if (hasOverview && event.clientY - box.top < OVERVIEW_LINE + 4) {
      setOnOverview(true);
      showOverviewAt(event.clientX);
      return;
    }
    const from = frameAtX(event.clientX);
    if (from === null) return;
    drag.current = { gesture: gestureOf(event), from, before: selection };
    apply(drag.current.gesture, selection, from, from);
  };
  const onPointerMove = (event: React.PointerEvent): void => {
    if (isOnOverview) return showOverviewAt(event.clientX);
    const frame = drag.current === null ? null : frameAtX(event.clientX);
    if (frame !== null) apply(drag.current!.gesture, drag.current!.before, drag.current!.from, frame);
  };
  const onPointerUp = (): void => {
    drag.current = null;
    setOnOverview(false);
  };

  const at = focus === null ? null : data.index.positionOf(focus);
  const onKeyDown = (event: React.KeyboardEvent): void => {
    const here = at ?? window.start;
    const step = event.shiftKey ? WIDE_STEP : 1;
    const action: Record<string, () => void> = {
      ArrowLeft: () => moveFocus(at === null ? here : here - step),
      ArrowRight: () => moveFocus(at === null ? here : here + step),
      Home: () => moveFocus(0),
      End: () => moveFocus(total - 1),
      Enter: () => focus !== null && apply(gestureOf(event), selection, focus, focus),
      "+": () => setWindow(zoomWindow(window, 1 / ZOOM_STEP, here, total)),
      "-": () => setWindow(zoomWindow(window, ZOOM_STEP, here, total)),
    };
    const act = action[event.key];
    if (act === undefined) return;
    event.preventDefault();
    act();
  };

  return (
    <Flex gap="3" align="stretch">
      <Box
        ref={surface}
        flex="1"
        minW="0"
        position="relative"
        tabIndex={0}
        role="grid"
        aria-label="Tally band"
        aria-colcount={total}
        aria-multiselectable
        {...(focus !== null && at !== null ? { "aria-activedescendant": cellId(id, focus) } : {})}
        cursor="crosshair"
        userSelect="none"
        touchAction="none"
        outlineOffset="4px"
        onPointerDown={onPointerDown}
        onPointerMove={onPointerMove}
        onPointerUp={onPointerUp}
        onPointerCancel={onPointerUp}
        onKeyDown={onKeyDown}
        onDoubleClick={(event) => {
          const frame = frameAtX(event.clientX);
          if (frame !== null) onLook(frame);
        }}
      >
        <canvas ref={ref} aria-hidden style={{ width: "100%", height, display: "block" }} />
        <BandGrid id={id} data={data} window={window} selection={selection} />
      </Box>
      <Box
        w={`${withLanes ? GUTTER : SCRUBBER_GUTTER}px`}
        display={{ base: withLanes ? "none" : "block", sm: "block" }}
        position="relative"
        flexShrink={0}
        fontSize="xs"
        color="softInk"
        lineHeight="1.15"
      >
        {hasOverview && (
          <HStack gap="1" position="absolute" top="-2px">
            <Tip text="Show fewer frames, larger (+)">
              <Button
                size="2xs"
                variant="outline"
                aria-label="Zoom in"
                onClick={() =>
                  setWindow(zoomWindow(window, 1 / ZOOM_STEP, window.start + window.count / 2, total))
                }
              >
                +
              </Button>
            </Tip>
            <Tip text="Show more frames, smaller (-)">
              <Button
                size="2xs"
                variant="outline"
                aria-label="Zoom out"
                onClick={() =>
                  setWindow(zoomWindow(window, ZOOM_STEP, window.start + window.count / 2, total))
                }
              >
                −
              </Button>
            </Tip>
          </HStack>
        )}
        <Flex position="absolute" top={`${strokeTop - 10}px`} gap="2" w="full">
          {picture}
          <Box minW="0">
            <FocusNote
              frame={focus}
              note={
                at === null
                  ? null
                  : `${resultAt(data, at)}${activityAt(data, at) === "idle" ? "" : `, ${activityAt(data, at)}`}`
              }
              samples={focus === null ? null : (saved.at(focus)?.samples ?? files.at(focus)?.samples ?? null)}
              made={focus === null ? null : files.at(focus)}
              leadId={leadId}
            />
          </Box>
        </Flex>
        {lanes.map((name, i) => (
          <Tip key={name} text={`${name}: ${laneFigures(name, lanesOf)}. A click folds this lane`}>
            <Box
              asChild
              position="absolute"
              top={`${lanesTop + i * LANE}px`}
              w="full"
              textAlign="left"
              cursor="pointer"
              fontSize="12px"
              lineHeight="12px"
              _hover={{ color: "petrol" }}
            >
              <button type="button" onClick={() => setOpenLanes(openLanes.filter((lane) => lane !== name))}>
                <Flex gap="1.5" className="figures" h={`${LANE}px`} align="center">
                  <Box flexShrink={0}>{name}</Box>
                  <Box truncate>{laneFigures(name, lanesOf)}</Box>
                </Flex>
              </button>
            </Box>
          </Tip>
        ))}
        {known.length > 0 && (
          <Box position="absolute" top={`${lanesTop - 21}px`} right="0">
            <LaneChoice known={known} open={lanes} onOpen={(next) => setOpenLanes([...next])} />
          </Box>
        )}
      </Box>
    </Flex>
  );
}
