/**
 * The estimate of a run: how long, when, and what it rests on; and backwards, what would be there in time.
 */
import { firstOf, type FrameSet, lastOf, rangeSet } from "../frames/frame-set";
import { type CostModel, type CostTarget, type FrameCosts, frameCosts } from "./cost-model";
import { schedule } from "./schedule";

/** Of a normal distribution, nine in ten lie below mean + this many spreads. */
export const NINETY = 1.2816;
/** What one or two timed frames leave open. */
export const UNKNOWN_SPREAD = 0.3;

export interface Estimate {
  /** Seconds from now: as likely before as after. */
  readonly likelySeconds: number;
  /** Nine times in ten it is done by then. */
  readonly lateSeconds: number;
  /** Seconds of work of all frames on nodes of middle speed. */
  readonly work: {
    /** Seconds on one node, over all frames; so are the parts below. */
    readonly startup: number;
    readonly lighting: number;
    readonly render: number;
    readonly denoise: number;
    readonly write: number;
  };
  readonly costs: FrameCosts;
  /** Of the model it rests on. */
  readonly spread: number | null;
}

/** The first part of a run whose scene asks for gathered light: no frame begins before it is done. */
export interface LightPart {
  /** Gatherings that come before the frames. */
  readonly caches: number;
  /** Seconds of one of them. */
  readonly seconds: number;
}

export interface EstimateRequest {
  /** Still to be made. */
  readonly frames: FrameSet;
  /** Cameras that each frame is rendered from; their costs are taken as alike. */
  readonly cameras: number;
  /** Null where none is needed, or none was timed. */
  readonly lighting: LightPart | null;
  readonly target: CostTarget;
  /** Speed of each frame that is rendered at once (`node-slots`). At least one. */
  readonly speeds: readonly number[];
  /** Share of the work that was lost in the past: failed and stopped attempts, nodes that vanished. */
  readonly lostShare: number;
}

/**
 * Time to the end of a run: costs by frame, spread over the nodes' speeds as the queue would hand them out,
 * with what the house loses to failures on top.
 * @param model fitted to frames that were timed; says itself how sure it is
 * @returns seconds low, likely and high, and what each part takes
 */
export function estimateRun(
  model: CostModel,
  { frames, cameras, lighting, target, speeds, lostShare }: EstimateRequest,
): Estimate {
  const costs = frameCosts(model, frames, target);
  const render = cameras === 1 ? costs.render : repeated(costs.render, cameras);
  const n = render.length;
  const caches = new Float64Array(lighting?.caches ?? 0).fill(lighting?.seconds ?? 0);
  const likely =
    (schedule({ render: caches, aside: costs.startup }, speeds) +
      schedule({ render, aside: costs.startup + costs.denoise + costs.write }, speeds)) /
    (1 - Math.min(0.9, lostShare));
  return {
    likelySeconds: likely,
    lateSeconds: likely * (1 + NINETY * (model.spread ?? UNKNOWN_SPREAD)),
    costs,
    spread: model.spread,
    work: {
      startup: costs.startup * (n + caches.length),
      lighting: caches.reduce((a, b) => a + b, 0),
      render: render.reduce((a, b) => a + b, 0),
      denoise: costs.denoise * n,
      write: costs.write * n,
    },
  };
}

/** For cameras: each renders every frame. */
function repeated(values: Float64Array, times: number): Float64Array {
  const all = new Float64Array(values.length * times);
  for (let i = 0; i < times; i++) all.set(values, i * values.length);
  return all;
}

/** One change that alone would be there in time, and its price. */
export type WayBack =
  | {
      readonly change: "samples";
      /** A pixel. */
      readonly samples: number;
      /** Times the grain of now. */ readonly grain: number;
    }
  | {
      readonly change: "time-limit";
      /** Of rendering a frame, at most. */
      readonly seconds: number;
      /** Frames that it cuts. */ readonly cut: number;
      /** Times the grain of now, in the dearest frame. */ readonly grain: number;
    }
  | {
      readonly change: "scale";
      /** Percent of the plan's scale of now. */ readonly factor: number;
      /** Of the pixels that remain. */
      readonly pixelShare: number;
    }
  | { readonly change: "step"; readonly step: number }
  /** So many more, each with a machine of its own. */
  | { readonly change: "nodes"; readonly more: number };

/** Motion at fewer frames than every eighth tells nothing. */
const LARGEST_STEP = 8;
/** More than any house has: the search must end. */
const MOST_NODES = 10_000;
/** To a ten-millionth of the range: finer than any setting. */
const BISECTIONS = 24;

/** Largest value between low and high for which `fits` holds, given that it holds below and not above. */
function largest(low: number, high: number, fits: (value: number) => boolean): number | null {
  if (!fits(low)) return null;
  let [a, b] = [low, high];
  for (let i = 0; i < BISECTIONS; i++) {
    const middle = (a + b) / 2;
    if (fits(middle)) a = middle;
    else b = middle;
  }
  return a;
}

/**
 * Each single change that ends within `seconds` (late finish), best kept first; none when the run is in time
 * anyway. Grain grows with the square root of samples lost.
 */
export function waysBack(model: CostModel, request: EstimateRequest, seconds: number): WayBack[] {
  const { frames, target, speeds } = request;
  const late = (change: Partial<EstimateRequest>): number =>
    estimateRun(model, { ...request, ...change }).lateSeconds;
  if (late({}) <= seconds) return [];
  const ways: WayBack[] = [];
  const samples = largest(
    1,
    target.samples,
    (s) => late({ target: { ...target, samples: Math.floor(s) } }) <= seconds,
  );
  if (samples !== null)
    ways.push({
      change: "samples",
      samples: Math.floor(samples),
      grain: Math.sqrt(target.samples / Math.floor(samples)),
    });
  const { render } = frameCosts(model, frames, target);
  const dearest = render.reduce((a, b) => Math.max(a, b), 0);
  const limit = largest(
    dearest * 0.001,
    dearest,
    (s) => late({ target: { ...target, timeLimit: s } }) <= seconds,
  );
  if (limit !== null) {
    const cutTo = Math.max(0.1, Math.floor(limit * 10) / 10);
    ways.push({
      change: "time-limit",
      seconds: cutTo,
      cut: render.filter((s) => s > cutTo).length,
      grain: Math.sqrt(dearest / cutTo),
    });
  }
  const factor = largest(
    0.05,
    1,
    (f) => late({ target: { ...target, pixels: target.pixels * f * f } }) <= seconds,
  );
  if (factor !== null) ways.push({ change: "scale", factor, pixelShare: factor * factor });
  const [first, last] = [firstOf(frames), lastOf(frames)];
  if (first !== null && last !== null && frames.count === rangeSet(first, last).count) {
    for (let step = 2; step <= LARGEST_STEP; step++) {
      if (late({ frames: rangeSet(first, last, step) }) > seconds) continue;
      ways.push({ change: "step", step });
      break;
    }
  }
  const more = fewestMore(
    (n) => late({ speeds: [...speeds, ...Array<number>(n).fill(1)] }) <= seconds,
    Math.min(MOST_NODES, frames.count),
  );
  if (more !== null) ways.push({ change: "nodes", more });
  return ways;
}

/** The least number of further nodes that fits; more nodes never take longer. */
function fewestMore(fits: (more: number) => boolean, most: number): number | null {
  if (!fits(most)) return null;
  let [no, yes] = [0, most];
  while (yes - no > 1) {
    const middle = (no + yes) >> 1;
    if (fits(middle)) yes = middle;
    else no = middle;
  }
  return yes;
}
