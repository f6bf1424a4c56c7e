/**
 * What a frame costs, from frames that were timed:
 *
 *     frame = start-up + [ fixed + b x pixels x samples ] + denoise + write
 *
 * `b` differs from frame to frame; between timed frames it is interpolated along the shot (monotone
 * cubic, Fritsch and Carlson 1980: no overshoot between two proofs). Everything else is the median.
 * Samples differ by node as the nodes' speeds do; speeds come out of frames that several nodes made
 * and of what each node's frames cost beside the curve.
 */
import { least, median } from "../many";
import { aloneFactor, isTold, threadsOf, type TimedBeside } from "./alone";
import { FrameIndex } from "../frames/frame-index";
import { type FrameSet, firstOf, lastOf } from "../frames/frame-set";

/** One timed frame. */
export interface CostSample extends TimedBeside {
  /** Number of the file: where along the shot. */
  readonly frame: number;
  /** Its name: nodes have speeds. */
  readonly node: string;
  readonly pixels: number;
  /** A pixel. */
  readonly samples: number;
  readonly startupSeconds: number;
  /** Sampling alone, by the clock. */
  readonly renderSeconds: number;
  readonly denoiseSeconds: number;
  /** Of all passes. */
  readonly writeSeconds: number;
}

export interface FrameCosts {
  /** Asked frames in ascending order. */
  readonly frames: Float64Array;
  /** Seconds, at the same positions. */
  readonly render: Float64Array;
  /** Seconds a frame, the same for all. */
  readonly startup: number;
  readonly denoise: number;
  readonly write: number;
}

export interface CostModel {
  /** Seconds that a render takes whatever its size. */
  readonly fixed: number;
  /** Timed frames, ascending, and the seconds of a sample of a pixel there. */
  readonly at: readonly number[];
  /** At the positions of `at`. */
  readonly perSample: readonly number[];
  /** Seconds a frame. */
  readonly startup: number;
  /** Seconds a pixel. */
  readonly denoise: number;
  /** Seconds a frame. */
  readonly write: number;
  /** Speed of each node against the middle one: 2 is twice as fast. */
  readonly speeds: ReadonlyMap<string, number>;
  /** Root mean square of the relative leave-one-out error; null with fewer than three timed frames. */
  readonly spread: number | null;
  /** Timed frames that it rests on. */
  readonly samples: number;
  /** Timed beside other work, and corrected by their processor seconds. */
  readonly corrected: number;
  /** Their seconds were multiplied by this, in the middle; 1 where none was corrected. */
  readonly correction: number;
  /** Timed beside other work and left out, as nothing tells what they would have taken alone. */
  readonly leftOut: number;
  /** True where there is nothing but such, and they count after all. */
  readonly isBusy: boolean;
  /** Processors that one frame keeps busy; 1 where nothing tells. */
  readonly threads: number;
}

/** Gathered light that was made. */
export interface TimedLight extends TimedBeside {
  /** The scene that it was gathered for. */
  readonly scene: string;
  /** What one gathering took, by the clock. */
  readonly seconds: number;
}

/**
 * Seconds of gathered light of the plan's scene on a processor of its own, from such as were made; they depend
 * on what the scene asks for, not on the picture's size. Null where none was.
 */
export function cacheSeconds(
  timed: readonly TimedLight[],
  plan: { readonly scene: string; readonly renderer: string },
): number | null {
  const own = timed.filter((t) => t.scene === plan.scene);
  const threads = threadsOf(plan, own);
  return own.length === 0 ? null : median(own.map((t) => t.seconds * (aloneFactor(t, threads) ?? 1)));
}

/** What render time grows with. */
const work = (s: CostSample): number => s.pixels * s.samples;

/**
 * Fixed seconds by least squares over frames that were timed with different amounts of work; 0 where there
 * are none.
 */
function fixedSeconds(samples: readonly CostSample[]): number {
  const byFrame = new Map<number, CostSample[]>();
  for (const s of samples) byFrame.set(s.frame, [...(byFrame.get(s.frame) ?? []), s]);
  const found: number[] = [];
  for (const group of byFrame.values()) {
    const n = group.length;
    const mx = group.reduce((sum, s) => sum + work(s), 0) / n;
    const my = group.reduce((sum, s) => sum + s.renderSeconds, 0) / n;
    const spread = group.reduce((sum, s) => sum + (work(s) - mx) ** 2, 0);
    if (spread <= (mx * 0.05) ** 2) continue;
    const slope = group.reduce((sum, s) => sum + (work(s) - mx) * (s.renderSeconds - my), 0) / spread;
    found.push(Math.max(0, my - slope * mx));
  }
  // Never more than the cheapest frame took: its work was not free.
  return Math.min(median(found), least(samples.map((s) => s.renderSeconds)) * 0.9);
}

/**
 * Speeds of nodes: how much their samples cost beside the curve of all; medians, so that one slow frame
 * counts for nothing.
 */
function nodeSpeeds(samples: readonly CostSample[], fixed: number): Map<string, number> {
  const nodes = [...new Set(samples.map((s) => s.node))];
  if (nodes.length < 2) return new Map(nodes.map((node) => [node, 1]));
  const cost = (s: CostSample): number => (s.renderSeconds - fixed) / work(s);
  const sorted = [...samples].sort((a, b) => a.frame - b.frame);
  // Against the neighbours along the shot, so that a node that had the dear frames is not called slow.
  const ratios = new Map<string, number[]>();
  sorted.forEach((s, i) => {
    const around = sorted.slice(Math.max(0, i - 4), i + 5).filter((o) => o.node !== s.node);
    if (around.length > 0)
      ratios.set(s.node, [...(ratios.get(s.node) ?? []), cost(s) / median(around.map(cost))]);
  });
  const raw = nodes.map(
    (node) => [node, 1 / Math.max(1e-6, Math.sqrt(median(ratios.get(node) ?? [1])))] as const,
  );
  const middle = median(raw.map(([, speed]) => speed));
  return new Map(raw.map(([node, speed]) => [node, speed / middle]));
}

/** With the processors to itself: what the disk takes stays as it is. */
const alone = (s: CostSample, factor: number): CostSample => ({
  ...s,
  startupSeconds: s.startupSeconds * factor,
  renderSeconds: s.renderSeconds * factor,
  denoiseSeconds: s.denoiseSeconds * factor,
});

/**
 * Null without a timed frame. Frames timed beside other work are corrected by their processor seconds; where
 * these are not known, they count only where there is nothing better.
 */
export function costModel(all: readonly CostSample[], plan: { readonly renderer: string }): CostModel | null {
  const whole = all.filter((s) => work(s) > 0 && s.renderSeconds >= 0);
  const threads = threadsOf(plan, whole);
  const factors: number[] = [];
  const sure: CostSample[] = [];
  for (const s of whole) {
    const factor = aloneFactor(s, threads);
    if (factor !== null) sure.push(alone(s, factor));
    if (isTold(factor)) factors.push(factor);
  }
  const samples = sure.length > 0 ? sure : whole;
  if (samples.length === 0) return null;
  const fixed = fixedSeconds(samples);
  const speeds = nodeSpeeds(samples, fixed);
  const byFrame = new Map<number, number[]>();
  for (const s of samples)
    byFrame.set(s.frame, [
      ...(byFrame.get(s.frame) ?? []),
      Math.max(0, ((s.renderSeconds - fixed) / work(s)) * (speeds.get(s.node) ?? 1)),
    ]);
  const at = [...byFrame.keys()].sort((a, b) => a - b);
  const perSample = at.map((frame) => median(byFrame.get(frame)!));
  return {
    fixed,
    at,
    perSample,
    speeds,
    samples: samples.length,
    corrected: factors.length,
    correction: factors.length === 0 ? 1 : median(factors),
    leftOut: whole.length - samples.length,
    isBusy: sure.length === 0,
    threads: threads ?? 1,
    startup: median(samples.map((s) => s.startupSeconds)),
    denoise: median(samples.filter((s) => s.denoiseSeconds > 0).map((s) => s.denoiseSeconds / s.pixels)),
    write: median(samples.map((s) => s.writeSeconds / s.pixels)),
    spread: leaveOneOut(at, perSample),
  };
}

/** How well the others foretell each timed frame: the honest spread, since every frame fits its own curve. */
function leaveOneOut(at: readonly number[], values: readonly number[]): number | null {
  if (at.length < 3) return null;
  let sum = 0;
  for (let i = 0; i < at.length; i++) {
    const curve = interpolation(
      at.filter((_, j) => j !== i),
      values.filter((_, j) => j !== i),
    );
    sum += values[i]! === 0 ? 0 : (curve(at[i]!) / values[i]! - 1) ** 2;
  }
  return Math.sqrt(sum / at.length);
}

/** Monotone cubic through points at ascending places; flat beyond the ends. */
export function interpolation(xs: readonly number[], ys: readonly number[]): (x: number) => number {
  const n = xs.length;
  if (n === 1) return () => ys[0]!;
  const slopes = xs.slice(1).map((x, i) => (ys[i + 1]! - ys[i]!) / (x - xs[i]!));
  const tangents = xs.map((_, i) => {
    if (i === 0) return slopes[0]!;
    if (i === n - 1) return slopes[n - 2]!;
    const [a, b] = [slopes[i - 1]!, slopes[i]!];
    return a * b <= 0 ? 0 : (2 * a * b) / (a + b);
  });
  return (x) => {
    if (x <= xs[0]!) return ys[0]!;
    if (x >= xs[n - 1]!) return ys[n - 1]!;
    let low = 0,
      high = n - 1;
    while (high - low > 1) {
      const middle = (low + high) >> 1;
      if (xs[middle]! <= x) low = middle;
      else high = middle;
    }
    const h = xs[high]! - xs[low]!;
    const t = (x - xs[low]!) / h;
    const t2 = t * t,
      t3 = t2 * t;
    return (
      (2 * t3 - 3 * t2 + 1) * ys[low]! +
      (t3 - 2 * t2 + t) * h * tangents[low]! +
      (3 * t2 - 2 * t3) * ys[high]! +
      (t3 - t2) * h * tangents[high]!
    );
  };
}

/** What is to be rendered: a part of the plan that costs. */
export interface CostTarget {
  /** Of one picture, after the scale. */
  readonly pixels: number;
  /** A pixel, at most. */
  readonly samples: number;
  readonly isDenoised: boolean;
  /** Render seconds a frame at most; null: no limit. */
  readonly timeLimit: number | null;
}

/** Cost of each frame on a node of middle speed. */
export function frameCosts(model: CostModel, frames: FrameSet, target: CostTarget): FrameCosts {
  const curve = interpolation(model.at, model.perSample);
  const numbers = new Float64Array(frames.count);
  const render = new Float64Array(frames.count);
  const amount = target.pixels * target.samples;
  let i = 0;
  for (const run of frames.runs) {
    for (let frame = run.first; frame <= run.last; frame += run.step) {
      const seconds = model.fixed + curve(frame) * amount;
      numbers[i] = frame;
      render[i++] = target.timeLimit === null ? seconds : Math.min(seconds, target.timeLimit);
    }
  }
  return {
    frames: numbers,
    render,
    startup: model.startup,
    denoise: target.isDenoised ? model.denoise * target.pixels : 0,
    write: model.write * target.pixels,
  };
}

/** Places along the shot where one more proof tells most: the ends, then the middle of the widest gap. */
export function nextProof(frames: FrameSet, timed: readonly number[]): number | null {
  const [first, last] = [firstOf(frames), lastOf(frames)];
  if (first === null || last === null) return null;
  if (!timed.includes(first)) return first;
  if (!timed.includes(last)) return last;
  const known = [...new Set(timed)].filter((f) => f >= first && f <= last).sort((a, b) => a - b);
  let best: readonly [number, number] = [first, first];
  for (let i = 1; i < known.length; i++)
    if (known[i]! - known[i - 1]! > best[1] - best[0]) best = [known[i - 1]!, known[i]!];
  const middle = Math.round((best[0] + best[1]) / 2);
  const index = new FrameIndex(frames);
  const nearest = index.frameAt(index.nearestPosition(middle)!)!;
  return known.includes(nearest) ? null : nearest;
}
