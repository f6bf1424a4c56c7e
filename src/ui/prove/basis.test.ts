/**
 * What estimates rest on: which frames are counted, which timed frames tell something of them, and the
 * gathered light.
 */
import { EMPTY, rangeSet, setOf } from "@/core/frames/frame-set";
import { type Plan, PLAN_DEFAULTS } from "@/core/plan/plan";
import { basisOf, grainOf, lightOf } from "./basis";
import { lightText } from "./words";
import type { ProofsView, ProofView } from "@/contract/proof-view";

const RATE = { numerator: 24, denominator: 1 };
const SAVED: Plan = {
  ...PLAN_DEFAULTS,
  scene: "scenes/quay.json",
  cameras: ["main"],
  frames: "1-20",
  timeLine: { first: 1, last: 20, rate: RATE },
  rate: RATE,
  width: 200,
  height: 100,
  samples: 16,
};
const cost = (frame: number, samples = 16) => ({
  frame,
  node: "quay-1",
  pixels: 20_000,
  samples,
  startupSeconds: 0,
  renderSeconds: 2,
  denoiseSeconds: 0,
  writeSeconds: 0,
  otherLoad: 0,
  cpuShare: 1,
});
const proof = (plan: Plan, camera: string, samples = 16): ProofView => ({
  runId: 1,
  state: "done",
  plan: { ...plan, samples },
  wanted: "5",
  left: 0,
  failed: 0,
  createdAt: 0,
  frames: [
    {
      camera,
      cost: cost(5, samples),
      stoppedBy: "samples",
      passes: [
        { pass: "beauty", sequenceId: 1, content: "x", bytes: 1000, noise: 0.08, luminance: 0.5, fits: true },
      ],
    },
  ],
});
const view = (
  proofs: readonly ProofView[],
  lighting: ProofsView["lighting"] = { there: {}, timed: [] },
): ProofsView => ({ proofs, history: [cost(9)], lostShare: 0, lighting, freeBytes: null });
const ASKED = rangeSet(1, 20);

describe("frames and timed frames", () => {
  test("good frames cost nothing more, until the look changes: then all of them are made anew", () => {
    const good = rangeSet(1, 15);
    expect([
      basisOf(SAVED, SAVED, ASKED, good, view([])).frames.count,
      basisOf({ ...SAVED, width: 400 }, SAVED, ASKED, good, view([])).frames.count,
    ]).toEqual([5, 20]);
  });
  test("proofs of another scene, shading or camera say nothing; history says nothing of another scene", () => {
    const proofs = [
      proof(SAVED, "main"),
      proof(SAVED, "top"),
      proof({ ...SAVED, shading: "direct" }, "main"),
      proof({ ...SAVED, scene: "scenes/mole.json" }, "main"),
    ];
    expect(basisOf(SAVED, SAVED, ASKED, EMPTY, view(proofs))).toMatchObject({ proofs: 1, history: 1 });
    expect(basisOf({ ...SAVED, scene: "scenes/mole.json" }, SAVED, ASKED, EMPTY, view(proofs))).toMatchObject(
      { proofs: 1, history: 0 },
    );
  });
  test("grain comes from the proof whose samples are nearest, and halves with four times the samples", () => {
    expect(
      grainOf({ ...SAVED, samples: 64 }, view([proof(SAVED, "main", 16), proof(SAVED, "main", 1)])),
    ).toBeCloseTo(0.04, 9);
    expect(grainOf(SAVED, view([]))).toBeNull();
  });
});

describe("the gathered light", () => {
  const timed = [
    { scene: "scenes/quay.json", seconds: 4 },
    { scene: "scenes/quay.json", seconds: 6 },
    { scene: "scenes/mole.json", seconds: 90 },
  ].map((light) => ({ ...light, otherLoad: 0, cpuShare: 1 }));
  const known = view([], { there: { main: "0,8" }, timed });
  test("each camera needs its own; what is there already is not made again, unless the look changes", () => {
    expect(lightOf(SAVED, SAVED, ASKED, 8, known)).toEqual({ caches: 2, seconds: 5 });
    expect(lightOf({ ...SAVED, cameras: ["main", "top"] }, SAVED, setOf([9]), 8, known)).toEqual({
      caches: 3,
      seconds: 5,
    });
    expect(lightOf({ ...SAVED, width: 400 }, SAVED, ASKED, 8, known).caches).toBe(4);
  });
  test("a scene that asks for none, or quick shading, has none", () =>
    expect([
      lightOf(SAVED, SAVED, ASKED, null, known),
      lightOf({ ...SAVED, shading: "direct" }, SAVED, ASKED, 8, known),
    ]).toEqual([
      { caches: 0, seconds: null },
      { caches: 0, seconds: null },
    ]));
  test("without a timed one the page says that its time is not in the figures", () => {
    const unknown = lightOf(SAVED, SAVED, ASKED, 8, view([]));
    expect(unknown).toEqual({ caches: 4, seconds: null });
    expect([lightText(unknown), lightText({ caches: 1, seconds: 75 })]).toEqual([
      "The gathered light at 4 frames comes first; none was timed yet, and it is not in these figures.",
      "The gathered light at 1 frame comes first, 1 min 15 s each.",
    ]);
  });
});
