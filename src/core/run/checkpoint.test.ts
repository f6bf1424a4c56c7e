import {
  checkpointBytes,
  checkpointStorage,
  type SavedSamples,
  planCheckpointBytes,
  putBackEdits,
  resumeBar,
} from "./checkpoint";
import { effortSettings, lookSettings } from "../plan/fingerprint";
import { type Plan, PLAN_DEFAULTS } from "../plan/plan";

const RATE = { numerator: 24, denominator: 1 };
const plan = (change: Partial<Plan> = {}): Plan => ({
  ...PLAN_DEFAULTS,
  scene: "a.json",
  cameras: ["main"],
  frames: "1-9",
  timeLine: { first: 1, last: 9, rate: RATE },
  rate: RATE,
  ...change,
});
const saved = (change: Partial<Plan> = {}, kept: Partial<SavedSamples> = {}): SavedSamples => {
  const p = plan(change);
  return {
    look: lookSettings(p, { scene: "s", files: {}, engine: "e" }, "beauty"),
    effort: effortSettings(p),
    layers: false,
    cover: false,
    ...kept,
  };
};

describe("a render goes on from saved samples", () => {
  test("in rounds with more samples, a lower noise or a longer time", () => {
    expect(
      resumeBar(saved({ samples: 16 }), saved({ samples: 64, noiseTarget: 0.01, timeLimit: 180 })),
    ).toBeNull();
  });
  test("not when anything of the look has changed: the settings are named, before and after", () => {
    expect(
      resumeBar(saved({ shutter: 0.5, samples: 16 }), saved({ shutter: 0.3, seed: 2, samples: 64 })),
    ).toEqual({
      code: "look-changed",
      changes: [
        { setting: "seed", before: 1, after: 2 },
        { setting: "shutter", before: 0.5, after: 0.3 },
      ],
    });
  });
  test("tile by tile only when nothing at all has changed", () => {
    expect(resumeBar(saved({ sampling: "tiles" }), saved({ sampling: "tiles" }))).toBeNull();
    expect(resumeBar(saved({ sampling: "tiles" }), saved({ sampling: "tiles", samples: 128 }))).toMatchObject(
      {
        code: "tiles-are-final",
        changes: [{ setting: "samples", before: 64, after: 128 }],
      },
    );
    expect(resumeBar(saved(), saved({ sampling: "tiles" }))).toMatchObject({
      code: "tiles-are-final",
      changes: [{ setting: "sampling", before: null, after: "tiles" }],
    });
  });
  test("not when a new pass or alpha needs sums that were not kept; more than is needed does no harm", () => {
    expect(resumeBar(saved(), saved({}, { layers: true }))).toEqual({ code: "sums-not-kept" });
    expect(resumeBar(saved({}, { cover: true }), saved({}, { cover: true, layers: true }))).toEqual({
      code: "sums-not-kept",
    });
    expect(resumeBar(saved({}, { cover: true, layers: true }), saved())).toBeNull();
  });
});

test("what was changed can be put back into the plan, unless it is not the plan's: then null", () => {
  const bar = resumeBar(
    saved({ shutter: 0.5, width: 640, height: 360, scale: 50 }),
    saved({ shutter: 0.3, width: 1280, height: 720 }),
  );
  const changes = bar !== null && "changes" in bar ? bar.changes : [];
  expect(putBackEdits(changes)).toEqual({
    shutter: 0.5,
    width: 320,
    height: 180,
    scale: 100,
    pixelAspect: 1,
  });
  expect(
    resumeBar(
      saved({ shutter: 0.5, width: 640, height: 360, scale: 50 }),
      saved({ ...putBackEdits(changes) }),
    ),
  ).toBeNull();
  expect(putBackEdits([{ setting: "sampling", before: null, after: "tiles" }])).toEqual({
    sampling: "rounds",
  });
  expect(
    putBackEdits([
      { setting: "scene", before: "a", after: "b" },
      { setting: "seed", before: 1, after: 2 },
    ]),
  ).toBeNull();
});

test("kept samples take room beside every frame, others one a frame in work, and none where nothing is saved", () => {
  const each = planCheckpointBytes(plan());
  expect(checkpointStorage(plan({ keepSamples: true, cameras: ["a", "b"] }), 100, 3)).toBe(200 * each);
  expect([
    checkpointStorage(plan(), 100, 3),
    checkpointStorage(plan(), 2, 3),
    checkpointStorage(plan(), 100, 0),
  ]).toEqual([3 * each, 2 * each, each]);
  expect(checkpointStorage(plan({ checkpoints: { kind: "never" } }), 100, 3)).toBe(0);
});

test("a checkpoint of a full HD frame: 91 MB for the beauty alone, 340 MB with alpha and all passes", () => {
  const pixels = 1920 * 1080;
  expect(Math.round(checkpointBytes(pixels, { cover: false, layers: false }) / 1e6)).toBe(91);
  expect(Math.round(checkpointBytes(pixels, { cover: true, layers: true }) / 1e6)).toBe(340);
});
