import crypto from "node:crypto";
import type { Scene } from "@/contract/scene";
import { arraysOf, type FrameSums } from "./frame-sums";
import { type Digest, encodeCheckpoint, readCheckpointHeader, readCheckpointSums } from "./checkpoint";
import { type Cursor, FrameRender, type FrameRequest, sumsKeptBy } from "./render-frame";

const scene: Scene = {
  format: "plain-tally-scene/1",
  frameRate: 24,
  shutter: 0.5,
  exposure: 1,
  sky: {
    zenith: [0.4, 0.5, 0.8],
    horizon: [0.8, 0.8, 0.8],
    ground: [0.1, 0.1, 0.1],
    sun: { direction: [0.5, 0.8, 0.4], colour: [1, 1, 1], strength: 2, angle: 2 },
  },
  cameras: [
    {
      name: "main",
      position: [0, 1, 6],
      target: [0, 1, 0],
      focalLength: 50,
      lens: { fNumber: 2, focusDistance: 6 },
    },
  ],
  materials: {
    clay: { kind: "diffuse", colour: [0.8, 0.4, 0.2] },
    chrome: { kind: "metal", colour: [0.9, 0.9, 0.9] },
  },
  bodies: [
    { shape: "plane", material: "clay" },
    {
      shape: "sphere",
      material: "chrome",
      position: {
        keys: [
          { frame: 1, value: [0, 1, 0], ease: "linear" },
          { frame: 2, value: [1, 1, 0] },
        ],
      },
    },
  ],
};
const request = (change: Partial<FrameRequest> = {}): FrameRequest => ({
  scene,
  textures: new Map(),
  camera: "main",
  frame: 1,
  width: 50,
  height: 40,
  samples: 10,
  seed: 1,
  layers: true,
  filter: { kind: "gaussian", radius: 1.5 },
  ...change,
});

const digest: Digest = (parts) => {
  const hash = crypto.createHash("sha256");
  for (const part of parts) hash.update(part);
  return hash.digest();
};
const bytesOf = (render: FrameRender): Uint8Array =>
  Buffer.concat(encodeCheckpoint({ cursor: render.cursor }, render.sums, digest));

/** What a new process would have in hand. */
function reopened(
  bytes: Uint8Array,
  from: FrameRequest,
): { readonly sums: FrameSums; readonly cursor: Cursor } {
  const { end, header } = readCheckpointHeader(bytes)!;
  return {
    sums: readCheckpointSums(
      bytes,
      end,
      { width: from.width, height: from.height, kept: sumsKeptBy(from) },
      digest,
    )!,
    cursor: (header as { cursor: Cursor }).cursor,
  };
}

const finish = (render: FrameRender): FrameRender => {
  while (render.renderRow());
  return render;
};
const takeRows = (render: FrameRender, rows: number): boolean => {
  for (let i = 0; i < rows; i++) if (!render.renderRow()) return false;
  return true;
};

/** Stops and goes on at `stops` places, each time through a file. */
function interrupted(wanted: FrameRequest, stops: readonly number[]): FrameRender {
  let render = new FrameRender(wanted);
  for (const rows of stops) {
    takeRows(render, rows);
    render = new FrameRender(wanted, reopened(bytesOf(render), wanted));
  }
  return finish(render);
}

const pictures = (render: FrameRender): readonly Float32Array[] => {
  const p = render.pictures;
  return [
    p.beauty(),
    p.beauty(true),
    p.denoised(),
    p.depth(),
    p.normal(),
    p.albedo(),
    p.direct(),
    p.indirect(),
  ]
    .map((image) => image.data)
    .concat(p.alpha());
};

/** A fixed seed's numbers, so that a failure can be seen again. */
function randomNumbers(seed: number, count: number, limit: number): number[] {
  let state = seed;
  return Array.from({ length: count }, () => {
    state = (Math.imul(state, 1_664_525) + 1_013_904_223) >>> 0;
    return state % limit;
  });
}

describe.each(["rounds", "tiles"] as const)("sampling in %s", (sampling) => {
  const whole = finish(new FrameRender(request({ sampling })));
  test("stopped 20 times at random and gone on with each time, every pass is bit for bit that of a render that went through", () => {
    const stops = randomNumbers(7, 20, 9);
    expect(stops.some((rows) => rows > 0)).toBe(true);
    const patched = interrupted(request({ sampling }), stops);
    expect(patched.samples).toBe(10);
    expect(pictures(patched)).toEqual(pictures(whole));
    expect(arraysOf(patched.sums)).toEqual(arraysOf(whole.sums));
  });
  test("a noise target decides the same, stopped or not", () => {
    const wanted = request({ sampling, samples: 400, noiseTarget: 0.06, minSamples: 4 });
    const through = finish(new FrameRender(wanted));
    const patched = interrupted(wanted, randomNumbers(11, 20, 30));
    expect([through.stoppedBy, patched.stoppedBy]).toEqual(["noise", "noise"]);
    expect(arraysOf(patched.sums)).toEqual(arraysOf(through.sums));
  });
});

test("rounds and tiles are two ways to one picture", () => {
  expect(pictures(finish(new FrameRender(request({ sampling: "tiles" }))))).toEqual(
    pictures(finish(new FrameRender(request()))),
  );
});

test("more samples can be added to a finished frame: it becomes the frame of so many samples", () => {
  const coarse = request({ samples: 6 });
  const held = reopened(bytesOf(finish(new FrameRender(coarse))), coarse);
  const refined = finish(new FrameRender(request({ samples: 22 }), held));
  expect(refined.samples).toBe(22);
  expect(pictures(refined)).toEqual(pictures(finish(new FrameRender(request({ samples: 22 })))));
});

test("a frame that holds more than is asked is done", () => {
  const held = reopened(bytesOf(finish(new FrameRender(request()))), request());
  const render = new FrameRender(request({ samples: 4 }), held);
  expect([render.renderRow(), render.samples, render.stoppedBy]).toEqual([false, 10, "samples"]);
});

test("progress grows to 1 and goes on where it was", () => {
  for (const sampling of ["rounds", "tiles"] as const) {
    const wanted = request({ sampling });
    const render = new FrameRender(wanted);
    const seen = [render.progress];
    while (render.renderRow()) seen.push(render.progress);
    expect(seen.every((share, i) => i === 0 || share >= seen[i - 1]!)).toBe(true);
    expect([seen[0], render.progress]).toEqual([0, 1]);
    const half = new FrameRender(wanted);
    takeRows(half, 50);
    expect(new FrameRender(wanted, reopened(bytesOf(half), wanted)).progress).toBe(half.progress);
  }
});

test("a file that is cut short or altered anywhere is refused", () => {
  const wanted = request({ layers: false, cover: false });
  const render = new FrameRender(wanted);
  takeRows(render, 30);
  const bytes = bytesOf(render);
  const size = { width: 50, height: 40, kept: { layers: false, cover: false } };
  const { end } = readCheckpointHeader(bytes)!;
  expect(readCheckpointSums(bytes, end, size, digest)).not.toBeNull();
  expect(readCheckpointSums(bytes.subarray(0, bytes.length - 1), end, size, digest)).toBeNull();
  for (const at of randomNumbers(3, 12, bytes.length)) {
    const altered = Uint8Array.from(bytes);
    altered[at]! ^= 1;
    const read = readCheckpointHeader(altered);
    expect(read === null ? null : readCheckpointSums(altered, read.end, size, digest)).toBeNull();
  }
  expect(readCheckpointHeader(new Uint8Array(5))).toBeNull();
  expect(readCheckpointHeader(new TextEncoder().encode("PTALLYC1 and then something else"))).toBeNull();
});
