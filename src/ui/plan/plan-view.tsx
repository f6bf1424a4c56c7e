"use client";
/**
 * The scene from above, with the points of a camera's path on it: picked, drawn to another place, moved with keys.
 * x goes to the right, z comes towards the reader, as a camera that looks along -z sees it; heights are typed.
 */
import { Box, Text } from "@chakra-ui/react";
import { type PointerEvent, useRef, useState } from "react";
import type { SceneView } from "@/contract/shot-view";
import { largest } from "@/core/many";
import type { PathMove, Point } from "@/core/plan/camera-move";
import { inkVariable } from "../theme/ink";
import type { InkName } from "../theme/system";

/** Pixels; the view keeps its shape and is as wide as its place. */
const [WIDTH, HEIGHT] = [340, 220];
/** Of the view, left free at each side. */
const MARGIN = 0.08;
/** In lengths of the path: bodies that are larger, or stand further off, are no reason to look from further away. */
const NEAR = 1.5;
/** Metres that an arrow key moves by, and with Shift. */
const [STEP, WIDE_STEP] = [0.1, 1];

/** One of the points: of the path, or of what is looked at. */
export interface PathSpot {
  readonly of: "points" | "target" | "targetPath";
  readonly index: number;
}

const spotsOf = (move: PathMove): readonly (PathSpot & { readonly at: Point; readonly label: string })[] => [
  ...move.points.map((at, index) => ({ of: "points" as const, index, at, label: `Point ${index + 1}` })),
  ...(move.targetPath === undefined
    ? [{ of: "target" as const, index: 0, at: move.target, label: "What is looked at" }]
    : move.targetPath.map((at, index) => ({
        of: "targetPath" as const,
        index,
        at,
        label: `Looked at, point ${index + 1}`,
      }))),
];

/** The move with a point at another place on the ground; its height stays. */
export function withSpot(move: PathMove, { of, index }: PathSpot, x: number, z: number): PathMove {
  const moved = ([, y]: Point): Point => [Math.round(x * 100) / 100, y, Math.round(z * 100) / 100];
  if (of === "target") return { ...move, target: moved(move.target) };
  const points = (of === "points" ? move.points : (move.targetPath ?? [])).map((point, i) =>
    i === index ? moved(point) : point,
  );
  return of === "points" ? { ...move, points } : { ...move, targetPath: points };
}

/** What the view shows: metres at its left and upper edge, and pixels a metre. */
function frameOf(move: PathMove, footprints: SceneView["footprints"]) {
  const spots = spotsOf(move).map(({ at }) => at);
  const range = (values: readonly number[]): readonly [number, number] => [
    values.reduce((a, b) => Math.min(a, b)),
    values.reduce((a, b) => Math.max(a, b)),
  ];
  const spread = (axis: 0 | 2): number => {
    const [low, high] = range(spots.map((p) => p[axis]));
    return high - low;
  };
  const own = largest([1, spread(0), spread(2)]);
  const [middleX, middleZ] = ([0, 2] as const).map((axis) => {
    const [low, high] = range(spots.map((p) => p[axis]));
    return (low + high) / 2;
  }) as [number, number];
  const isNear = (edge: number, middle: number): boolean => Math.abs(edge - middle) <= own * NEAR;
  const near = footprints.filter(
    ({ x, z }) => x.every((edge) => isNear(edge, middleX)) && z.every((edge) => isNear(edge, middleZ)),
  );
  const [left, right] = range([...spots.map((p) => p[0]), ...near.flatMap(({ x }) => x)]);
  const [top, bottom] = range([...spots.map((p) => p[2]), ...near.flatMap(({ z }) => z)]);
  const scale = Math.min(
    (WIDTH * (1 - 2 * MARGIN)) / Math.max(1, right - left),
    (HEIGHT * (1 - 2 * MARGIN)) / Math.max(1, bottom - top),
  );
  return {
    left: (left + right) / 2 - WIDTH / 2 / scale,
    top: (top + bottom) / 2 - HEIGHT / 2 / scale,
    scale,
  };
}

/** Where the camera goes, and where it looks. */
const inkOf = ({ of }: PathSpot): InkName => (of === "points" ? "petrol" : "plum");

export function PlanView({
  move,
  footprints,
  onMove,
}: {
  readonly move: PathMove;
  readonly footprints: SceneView["footprints"];
  readonly onMove: (move: PathMove) => void;
}) {
  const [chosen, setChosen] = useState<PathSpot>({ of: "points", index: 0 });
  // While a point is drawn the view stays as it was, or it would run away from under the pointer.
  const [held, setHeld] = useState<ReturnType<typeof frameOf> | null>(null);
  const surface = useRef<SVGSVGElement>(null);
  const { left, top, scale } = held ?? frameOf(move, footprints);
  const px = (x: number): number => (x - left) * scale;
  const pz = (z: number): number => (z - top) * scale;
  const spots = spotsOf(move);
  const isChosen = (spot: PathSpot): boolean => spot.of === chosen.of && spot.index === chosen.index;
  const place = (event: PointerEvent): readonly [number, number] => {
    const box = surface.current!.getBoundingClientRect();
    return [
      left + ((event.clientX - box.left) / box.width) * (WIDTH / scale),
      top + ((event.clientY - box.top) / box.height) * (HEIGHT / scale),
    ];
  };
  const line = (points: readonly Point[]): string => points.map((p) => `${px(p[0])},${pz(p[2])}`).join(" ");
  return (
    <Box>
      <svg
        ref={surface}
        viewBox={`0 0 ${WIDTH} ${HEIGHT}`}
        role="group"
        aria-label="The scene from above"
        data-testid="plan-view"
        style={{ width: "100%", display: "block", touchAction: "none", cursor: "crosshair" }}
        onPointerDown={(event) => {
          event.currentTarget.setPointerCapture(event.pointerId);
          setHeld(frameOf(move, footprints));
          onMove(withSpot(move, chosen, ...place(event)));
        }}
        onPointerMove={(event) => held !== null && onMove(withSpot(move, chosen, ...place(event)))}
        onPointerUp={() => setHeld(null)}
        onPointerCancel={() => setHeld(null)}
      >
        <rect width={WIDTH} height={HEIGHT} fill={inkVariable("paper")} stroke={inkVariable("rule")} />
        {footprints.map(({ name, x, z }, i) => (
          <rect
            key={i}
            x={px(x[0])}
            y={pz(z[0])}
            width={Math.max(1, (x[1] - x[0]) * scale)}
            height={Math.max(1, (z[1] - z[0]) * scale)}
            fill={inkVariable("rule")}
            fillOpacity={0.45}
            stroke={inkVariable("softInk")}
            strokeWidth={0.5}
          >
            {name !== null && <title>{name}</title>}
          </rect>
        ))}
        <polyline points={line(move.points)} fill="none" stroke={inkVariable("petrol")} strokeWidth={1.5} />
        {move.targetPath !== undefined && (
          <polyline
            points={line(move.targetPath)}
            fill="none"
            stroke={inkVariable("plum")}
            strokeWidth={1.5}
            strokeDasharray="4 3"
          />
        )}
        {spots.map((spot) => (
          <circle
            key={spot.label}
            role="button"
            tabIndex={0}
            aria-pressed={isChosen(spot)}
            aria-label={`${spot.label}, x ${spot.at[0]}, z ${spot.at[2]}: arrows move it`}
            cx={px(spot.at[0])}
            cy={pz(spot.at[2])}
            r={6}
            fill={inkVariable(isChosen(spot) ? inkOf(spot) : "sheet")}
            stroke={inkVariable(inkOf(spot))}
            strokeWidth={2}
            style={{ cursor: "grab" }}
            onFocus={() => setChosen({ of: spot.of, index: spot.index })}
            onPointerDown={(event) => {
              // Taken where it is: the first pixel moves nothing.
              event.stopPropagation();
              setChosen({ of: spot.of, index: spot.index });
              setHeld(frameOf(move, footprints));
              surface.current?.setPointerCapture(event.pointerId);
            }}
            onKeyDown={(event) => {
              const by = event.shiftKey ? WIDE_STEP : STEP;
              const [dx, dz] =
                { ArrowLeft: [-by, 0], ArrowRight: [by, 0], ArrowUp: [0, -by], ArrowDown: [0, by] }[
                  event.key
                ] ?? [];
              if (dx === undefined || dz === undefined) return;
              event.preventDefault();
              onMove(withSpot(move, spot, spot.at[0] + dx, spot.at[2] + dz));
            }}
          />
        ))}
      </svg>
      <Text fontSize="xs" color="softInk">
        From above. A click puts {spots.find(isChosen)?.label.toLowerCase() ?? "the chosen point"} there;
        another is chosen by a click on it. Heights are typed.
      </Text>
    </Box>
  );
}
