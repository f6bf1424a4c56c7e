/**
 * Line drawings: a sample is ink where the surface that it meets ends before the next pixel to the right or
 * below, and paper elsewhere. No light is followed: three rays a sample are all.
 */
import type { Integrator } from "./integrator";

/** Scene light at an exposure of 1. Paper is no brighter than needed: a pixel half of ink would look like paper. */
const INK = 0;
const PAPER = 2.5;
/** Cosine between two normals of one body below which there is an edge. */
const SMOOTH = 0.7;
/** Pixels to the neighbours: how wide a line is. */
const WIDTH = 1.5;

/** Follows a camera ray into the integrator's fields. @param right pixels to the right @param down pixels below */
export type TracePixel = (right: number, down: number) => void;

/** What a ray met first, as far as a line beside it depends on it. */
interface Met {
  met: number;
  body: number;
  readonly normal: Float64Array;
}

/** What neighbours met; one sample at a time is drawn. */
const beside: readonly Met[] = [0, 1].map(() => ({ met: 0, body: -1, normal: new Float64Array(3) }));

/**
 * Traces a sample after its two neighbours and writes ink or paper over its radiance. Everything else that the
 * integrator tells is that of the sample itself.
 */
export function drawOutline(integrator: Integrator, trace: TracePixel, exposure: number): void {
  const { radiance, direct, background, normal } = integrator;
  for (const [i, neighbour] of beside.entries()) {
    trace(i === 0 ? WIDTH : 0, i === 0 ? 0 : WIDTH);
    neighbour.met = integrator.met;
    neighbour.body = integrator.body;
    neighbour.normal.set(normal);
  }
  trace(0, 0);
  const { met, body } = integrator;
  const isEdge = beside.some((other) => {
    if (other.met !== met) return true;
    if (met === 0) return false;
    const along =
      other.normal[0]! * normal[0]! + other.normal[1]! * normal[1]! + other.normal[2]! * normal[2]!;
    return other.body !== body || along < SMOOTH;
  });
  const light = (isEdge ? INK : PAPER) / exposure;
  for (let c = 0; c < 3; c++) {
    radiance[c] = direct[c] = light;
    background[c] = met === 0 ? light : 0;
  }
}
