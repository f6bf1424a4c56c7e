/**
 * A synthetic shot with faults whose truth is known: a camera that moves over a textured ground, a light that moves,
 * water below, things that pass, and grain; with a cut, a flash and a hold that are no faults. From a seed, so that a
 * figure can be measured again.
 */
import { EMPTY, type FrameSet, rangeSet } from "@/core/frames/frame-set";
import { rgb8, type IntegerImage } from "@/core/image/pixels";

// Asked for by name each time, they cost most of a shot where tests run in a context of their own.
const { floor, imul, sin, exp, max, min, round } = Math;

export const FRAMES = 240;
const [WIDTH, HEIGHT] = [192, 108];
/** Side of the textures, a power of two. */
const TILE = 256;

export const FAULTS = [
  "pop",
  "frozen",
  "flicker",
  "fireflies",
  "brightness",
  "noise",
  "size",
  "seconds",
] as const;
export type Fault = (typeof FAULTS)[number];

export interface SyntheticFrame {
  readonly image: IntegerImage;
  readonly bytes: number;
  readonly seconds: number;
}

export interface SyntheticShot {
  /** By frame number, from 1. */
  readonly truth: ReadonlyMap<number, Fault>;
  readonly flashes: FrameSet;
  readonly holds: FrameSet;
  frame(number: number): SyntheticFrame;
}

/** Even numbers from 0 to 1 (mulberry32). */
export function evenOf(seed: number): () => number {
  let a = seed >>> 0;
  return () => {
    a = (a + 0x6d2b79f5) >>> 0;
    let t = imul(a ^ (a >>> 15), 1 | a);
    t = (t + imul(t ^ (t >>> 7), 61 | t)) ^ t;
    return ((t ^ (t >>> 14)) >>> 0) / 4_294_967_296;
  };
}

/** Smooth noise that tiles, in four octaves: 0 to 1. */
function texture(even: () => number, octaves: number): Float32Array {
  const out = new Float32Array(TILE * TILE);
  let weight = 1;
  let sum = 0;
  for (let o = 0, cells = 8; o < octaves; o++, cells *= 2, weight /= 2) {
    const grid = Float32Array.from({ length: cells * cells }, even);
    sum += weight;
    const step = cells / TILE;
    for (let y = 0; y < TILE; y++)
      for (let x = 0; x < TILE; x++) {
        const [u, v] = [x * step, y * step];
        const [i, j] = [floor(u), floor(v)];
        const [fu, fv] = [u - i, v - j];
        const [su, sv] = [fu * fu * (3 - 2 * fu), fv * fv * (3 - 2 * fv)];
        const at = (a: number, b: number): number =>
          grid[((b + cells) % cells) * cells + ((a + cells) % cells)]!;
        const top = at(i, j) + (at(i + 1, j) - at(i, j)) * su;
        const low = at(i, j + 1) + (at(i + 1, j + 1) - at(i, j + 1)) * su;
        out[y * TILE + x]! += weight * (top + (low - top) * sv);
      }
  }
  return out.map((v) => v / sum);
}

/** Between four texels. */
function sample(tile: Float32Array, x: number, y: number): number {
  const i = floor(x);
  const j = floor(y);
  const u = x - i;
  const v = y - j;
  const left = i & (TILE - 1);
  const right = (i + 1) & (TILE - 1);
  const upper = (j & (TILE - 1)) * TILE;
  const lower = ((j + 1) & (TILE - 1)) * TILE;
  const top = tile[upper + left]! + (tile[upper + right]! - tile[upper + left]!) * u;
  const low = tile[lower + left]! + (tile[lower + right]! - tile[lower + left]!) * u;
  return top + (low - top) * v;
}

interface Look {
  readonly ground: Float32Array;
  readonly water: Float32Array;
  readonly speed: readonly [x: number, y: number];
  readonly tint: readonly [number, number, number];
  readonly horizon: number;
  readonly light: number;
  readonly passers: readonly {
    readonly y: number;
    readonly speed: number;
    readonly size: number;
    readonly from: number;
  }[];
  readonly bytes: number;
}

function lookOf(even: () => number): Look {
  return {
    ground: texture(even, 5),
    water: texture(even, 4),
    speed: [(even() - 0.5) * 5, (even() - 0.5) * 1.2],
    tint: [0.6 + 0.5 * even(), 0.6 + 0.5 * even(), 0.6 + 0.5 * even()],
    horizon: 0.6 + 0.3 * even(),
    light: 0.4 + 0.6 * even(),
    passers: Array.from({ length: 3 }, () => ({
      y: even() * HEIGHT * 0.6,
      speed: 1 + 4 * even(),
      size: 3 + 9 * even(),
      from: even() * WIDTH * 2,
    })),
    bytes: 30_000 + 60_000 * even(),
  };
}

/** What a frame shows before grain, 0 to 1. @param t frames; not whole where the camera jumps */
function paint(look: Look, t: number, gain: number): Float32Array {
  const out = new Float32Array(WIDTH * HEIGHT * 3);
  const [ox, oy] = [look.speed[0] * t + 6 * sin(t / 23), look.speed[1] * t + 3 * sin(t / 31)];
  const lightX = WIDTH * (0.5 + 0.5 * sin(t / 37));
  for (let y = 0, i = 0; y < HEIGHT; y++) {
    const isWater = y > look.horizon * HEIGHT;
    for (let x = 0; x < WIDTH; x++, i += 3) {
      const far = (x - lightX) / WIDTH;
      const light = gain * (0.55 + look.light * exp(-far * far * 6) * 0.45);
      const ripples = isWater
        ? 0.5 * sample(look.water, x * 1.7 + t * 1.3, y * 3 - t * 0.7) +
          0.5 * sample(look.water, x * 2.3 - t * 0.9, y * 4 + t)
        : sample(look.ground, x + ox, y + oy);
      let value = light * (isWater ? 0.25 + 0.5 * ripples : 0.1 + 0.9 * ripples);
      for (const { y: py, speed, size, from } of look.passers) {
        const px = ((from + speed * t) % (WIDTH * 2)) - WIDTH / 2;
        if ((x - px) ** 2 + (y - py) ** 2 < size * size) value = light * 0.15;
      }
      out[i] = value * look.tint[0];
      out[i + 1] = value * look.tint[1];
      out[i + 2] = value * look.tint[2];
    }
  }
  return out;
}

interface Planned {
  readonly kind: Fault;
  readonly first: number;
  readonly length: number;
  readonly draw: number;
}

/** Faults apart from one another, from the cut, and from what is named. */
function planFaults(even: () => number, taken: Set<number>): readonly Planned[] {
  const planned: Planned[] = [];
  const place = (kind: Fault, length: number): void => {
    for (let tries = 0; tries < 200; tries++) {
      const first = 4 + floor(even() * (FRAMES - 10 - length));
      const around = Array.from({ length: length + 10 }, (_, i) => first - 5 + i);
      if (around.some((n) => taken.has(n))) continue;
      for (let n = first; n < first + length; n++) taken.add(n);
      planned.push({ kind, first, length, draw: even() });
      return;
    }
  };
  for (let n = 0; n < 2; n++) {
    place("pop", 1 + floor(even() * 2));
    place("frozen", 1 + floor(even() * 2));
    place("flicker", 1 + floor(even() * 3));
    place("fireflies", 1);
  }
  place("brightness", 1);
  place("noise", 1);
  place("size", 1);
  place("seconds", 1);
  return planned;
}

export function syntheticShot(seed: number): SyntheticShot {
  const even = evenOf(seed);
  const looks = [lookOf(even), lookOf(even)] as const;
  const cut = 60 + floor(even() * 120);
  const flash = 10 + floor(even() * 40);
  const hold = 195 + floor(even() * 20);
  const [flashes, holds] = [rangeSet(flash, flash + 1), rangeSet(hold + 1, hold + 6)];
  const grain = 0.006 + 0.02 * even();
  const taken = new Set<number>();
  for (const [first, last] of [
    [cut - 1, cut + 1],
    [flash - 1, flash + 2],
    [hold - 1, hold + 8],
  ] as const)
    for (let n = first; n <= last; n++) taken.add(n);
  const faults = planFaults(even, taken);
  const truth = new Map<number, Fault>();
  for (const { kind, first, length } of faults)
    for (let n = first; n < first + length; n++) truth.set(n, kind);
  const faultAt = (number: number): Planned | undefined =>
    faults.find(({ first, length }) => number >= first && number < first + length);

  const frame = (number: number): SyntheticFrame => {
    const own = evenOf(seed * 1_000 + number);
    const fault = faultAt(number);
    const look = looks[number < cut ? 0 : 1];
    // A hold shows its first frame; so does a frozen one.
    const shown =
      number > hold && number <= hold + 6 ? hold : fault?.kind === "frozen" ? fault.first - 1 : number;
    let gain = number === flash || number === flash + 1 ? 1.7 : 1;
    let t = shown;
    if (fault?.kind === "pop") {
      if (fault.draw < 0.5) gain = fault.draw < 0.25 ? 0.75 : 1.3;
      else t += fault.draw < 0.75 ? 25 : -25;
    }
    if (fault?.kind === "brightness") gain = fault.draw < 0.5 ? 0.86 : 1.14;
    const painted = paint(look, t, gain);
    if (fault?.kind === "flicker") {
      // The same place through the burst: a font, a texture.
      const place = evenOf(floor(fault.draw * 1e9));
      const [w, h] = [12 + floor(place() * 40), 10 + floor(place() * 24)];
      const [left, top] = [floor(place() * (WIDTH - w)), floor(place() * (HEIGHT - h))];
      const level = 0.25 + 0.5 * place();
      for (let y = top; y < top + h; y++)
        painted.fill(level, (y * WIDTH + left) * 3, (y * WIDTH + left + w) * 3);
    }
    const hot = fault?.kind === "fireflies" ? 1 + floor(fault.draw * 9) : 0;
    for (let n = 0; n < hot; n++) {
      const [x, y] = [2 + floor(own() * (WIDTH - 4)), 2 + floor(own() * (HEIGHT - 4))];
      painted.fill(1.5, (y * WIDTH + x) * 3, (y * WIDTH + x) * 3 + 3);
    }
    const sigma = fault?.kind === "noise" ? grain * 2.2 : grain;
    // Some renderers seed their grain by the frame, some do not: a frozen frame may have the old grain, too.
    const noise = shown !== number && (fault?.draw ?? 0) < 0.5 ? evenOf(seed * 1_000 + shown) : own;
    const data = new Uint8Array(painted.length);
    for (let p = 0; p < painted.length; p += 3) {
      const g = sigma * (noise() + noise() + noise() - 1.5) * 2;
      for (let c = 0; c < 3; c++) data[p + c] = max(0, min(255, round((painted[p + c]! + g) * 255)));
    }
    return {
      image: rgb8(WIDTH, HEIGHT, data),
      bytes: round(look.bytes * (fault?.kind === "size" ? 0.55 : 1) * (1 + 0.02 * (own() - 0.5))),
      seconds: (fault?.kind === "seconds" ? 40 : 8) * (1 + 0.2 * (own() - 0.5)),
    };
  };
  return { truth, flashes: cut > 0 ? flashes : EMPTY, holds, frame };
}
