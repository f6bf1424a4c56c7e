/**
 * Camera moves for shots that have none: a full turn around a subject, and a move along a path of
 * points. Pure: place and target of the camera at a time. Frames, degrees a frame, seconds and speed
 * follow from one another.
 */
import { durationSeconds, type Rate } from "../timing/rate";

/** Metres: x, y (up), z. */
export type Point = readonly [number, number, number];

export interface TurnMove {
  readonly kind: "turn";
  /** What is turned around, and looked at. */
  readonly subject: Point;
  /** Metres from the subject, in plan view. */
  readonly distance: number;
  /** Metres of the camera above the subject. */
  readonly height: number;
  /** Seen from above. */
  readonly direction: "clockwise" | "anticlockwise";
  /** Degrees; 0 looks at the subject from +z. */
  readonly startAngle: number;
  /** Degrees of the whole move: 360 is a full turn. */
  readonly degrees: number;
  /** The last frame does not repeat the first: it stops one step short, so that a loop runs evenly. */
  readonly isLoop: boolean;
  /** `eased` begins and ends slowly. */
  readonly ease: "even" | "eased";
}

export interface PathMove {
  readonly kind: "path";
  /** Passed in their order, two at least. */
  readonly points: readonly Point[];
  /** What is looked at all the way; not where there is a line for it. */
  readonly target: Point;
  /** What is looked at goes along a line of its own, at the same share of its length as the camera. */
  readonly targetPath?: readonly Point[];
  readonly ease: "even" | "eased";
}

export type CameraMove = TurnMove | PathMove;

/** More than anybody types; the path is measured at each key. */
export const MAX_POINTS = 200;
/** A kilometre times a thousand is as far as a camera goes. */
const isPoint = (p: Point): boolean =>
  p.length === 3 && p.every((v) => Number.isFinite(v) && Math.abs(v) < 1e6);

/** What is wrong with a move, as a sentence; null when nothing is. */
export function moveFault(move: CameraMove): string | null {
  if (move.kind === "turn") {
    if (!isPoint(move.subject) || !Number.isFinite(move.height))
      return "The subject needs three numbers, in metres.";
    if (!(move.distance > 0)) return "The distance from the subject must be above 0.";
    if (!(move.degrees > 0 && move.degrees <= 36_000)) return "The turn must be above 0 degrees.";
    return Number.isFinite(move.startAngle) ? null : "The start angle must be a number.";
  }
  if (!move.points.every(isPoint) || !isPoint(move.target))
    return "Each point needs three numbers, in metres.";
  if (move.points.length < 2) return "A path needs at least two points.";
  const { targetPath } = move;
  if (targetPath !== undefined && (targetPath.length < 2 || !targetPath.every(isPoint)))
    return "A line that is looked at needs at least two points, of three numbers each, in metres.";
  return Math.max(move.points.length, targetPath?.length ?? 0) > MAX_POINTS
    ? `A path has at most ${MAX_POINTS} points.`
    : null;
}

/** Slow start and end (smoothstep). */
const eased = (t: number, ease: "even" | "eased"): number => (ease === "eased" ? t * t * (3 - 2 * t) : t);

/**
 * Degrees from one frame to the next. A loop shares its turn out over all frames, an open move over all steps
 * between them.
 */
export const degreesAFrame = (move: TurnMove, frames: number): number =>
  move.degrees / Math.max(1, move.isLoop ? frames : frames - 1);

/** Frames that a turn takes at so many degrees a frame. */
export const framesOfTurn = (move: TurnMove, degreesEach: number): number =>
  Math.max(1, Math.round(move.degrees / degreesEach) + (move.isLoop ? 0 : 1));

/** Metres. */
const distance = (a: Point, b: Point): number => Math.hypot(a[0] - b[0], a[1] - b[1], a[2] - b[2]);

/** Length of a path in metres. */
export const pathLength = (move: PathMove): number =>
  move.points.slice(1).reduce((sum, p, i) => sum + distance(move.points[i]!, p), 0);

/** Metres a second of an even move over so many frames. */
export const pathSpeed = (move: PathMove, frames: number, rate: Rate): number =>
  pathLength(move) / durationSeconds(Math.max(1, frames - 1), rate);

/** Frames that a path takes at so many metres a second. */
export const framesOfPath = (move: PathMove, speed: number, rate: Rate): number =>
  Math.max(2, Math.round((pathLength(move) / speed) * (rate.numerator / rate.denominator)) + 1);

/** Point at a share of the length, 0 to 1. */
function along(points: readonly Point[], share: number): Point {
  const lengths = points.slice(1).map((p, i) => distance(points[i]!, p));
  let left = share * lengths.reduce((a, b) => a + b, 0);
  for (let i = 0; i < lengths.length; i++) {
    const length = lengths[i]!;
    if (left <= length || i === lengths.length - 1) {
      const t = length === 0 ? 0 : Math.min(1, left / length);
      const [a, b] = [points[i]!, points[i + 1]!];
      return [a[0] + (b[0] - a[0]) * t, a[1] + (b[1] - a[1]) * t, a[2] + (b[2] - a[2]) * t];
    }
    left -= length;
  }
  return points[0]!;
}

/** Where the camera stands and looks.
 * @param index  steps since the first frame of the move; may be a fraction
 * @param frames frames of the whole move
 */
export function viewOf(
  move: CameraMove,
  index: number,
  frames: number,
): { readonly position: Point; readonly target: Point } {
  if (move.kind === "path") {
    const share = eased(Math.min(1, Math.max(0, index / Math.max(1, frames - 1))), move.ease);
    return {
      position: along(move.points, share),
      target: move.targetPath === undefined ? move.target : along(move.targetPath, share),
    };
  }
  const steps = Math.max(1, move.isLoop ? frames : frames - 1);
  const turned =
    eased(Math.min(1, Math.max(0, index / steps)), move.ease) *
    move.degrees *
    (move.direction === "clockwise" ? 1 : -1);
  const angle = ((move.startAngle + turned) * Math.PI) / 180;
  const [x, y, z] = move.subject;
  return {
    position: [x + Math.sin(angle) * move.distance, y + move.height, z + Math.cos(angle) * move.distance],
    target: move.subject,
  };
}
