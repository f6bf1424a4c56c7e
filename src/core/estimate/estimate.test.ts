import { rangeSet } from "../frames/frame-set";
import { cacheSeconds, costModel, type CostSample, interpolation, nextProof } from "./cost-model";
import { estimateRun, waysBack } from "./estimate";
import { schedule } from "./schedule";

const PIXELS = 100_000;
const sample = (frame: number, change: Partial<CostSample> = {}): CostSample => ({
  frame,
  node: "a",
  pixels: PIXELS,
  samples: 16,
  startupSeconds: 0.2,
  renderSeconds: 1,
  denoiseSeconds: 0,
  writeSeconds: 0.1,
  otherLoad: 0,
  cpuShare: 1,
  ...change,
});
const STAND_IN = { renderer: "stand-in" };
const model = (samples: readonly CostSample[]) => costModel(samples, STAND_IN)!;
const request = {
  frames: rangeSet(1, 100),
  cameras: 1,
  lighting: null,
  target: { pixels: PIXELS, samples: 16, isDenoised: false, timeLimit: null },
  speeds: [1],
  lostShare: 0,
};

describe("shots of known cost", () => {
  const smooth: Readonly<Record<string, (frame: number) => number>> = {
    "a hill": (f) => 2 + Math.sin((f / 100) * Math.PI),
    "a slope": (f) => 1 + f / 25,
    "a swing": (f) => 5 + 2 * Math.cos((f / 100) * 2 * Math.PI),
    "a rise that levels out": (f) => 3 * (1 - Math.exp(-f / 30)) + 1,
  };
  test.each(Object.keys(smooth))("with five proofs, the likely work of %s is within 5 %", (name) => {
    const cost = smooth[name]!;
    const estimate = estimateRun(
      model([1, 25, 50, 75, 100].map((f) => sample(f, { renderSeconds: cost(f) }))),
      request,
    );
    let truth = 0;
    for (let f = 1; f <= 100; f++) truth += cost(f) + 0.3;
    expect(Math.abs(estimate.likelySeconds / truth - 1)).toBeLessThan(0.05);
    expect(estimate.spread).not.toBeNull();
  });

  test("twice the samples or pixels cost twice as much, but for what is fixed", () => {
    // 0.5 s fixed and 1 s a 16 samples, timed at two numbers of samples.
    const m = model([sample(1, { renderSeconds: 1.5 }), sample(1, { samples: 64, renderSeconds: 4.5 })]);
    expect(m.fixed).toBeCloseTo(0.5, 6);
    const render = (samples: number, pixels: number): number =>
      estimateRun(m, { ...request, target: { ...request.target, samples, pixels } }).work.render / 100;
    expect([render(32, PIXELS), render(16, PIXELS / 4)].map((s) => Math.round(s * 1000) / 1000)).toEqual([
      2.5, 0.75,
    ]);
  });

  test("one proof is an estimate, with a late finish that admits it; three tell their spread", () => {
    const one = estimateRun(model([sample(50)]), request);
    expect([one.spread, one.lateSeconds > one.likelySeconds * 1.3]).toEqual([null, true]);
    const even = estimateRun(model([sample(1), sample(50), sample(100)]), request);
    expect(even.spread).toBeCloseTo(0, 9);
    expect(even.lateSeconds).toBeCloseTo(even.likelySeconds, 6);
  });

  test("frames timed beside other work, of which nothing more is known, count only where there is nothing better", () => {
    const busy = sample(50, { renderSeconds: 9, otherLoad: 0.8, cpuShare: null });
    expect(model([sample(50), busy])).toMatchObject({ leftOut: 1, isBusy: false, samples: 1 });
    expect(model([busy])).toMatchObject({ leftOut: 0, isBusy: true, samples: 1, corrected: 0 });
    expect(costModel([], STAND_IN)).toBeNull();
  });

  test("proofs timed on a busy machine make the estimate that a quiet one makes, and it is told", () => {
    const cost = (f: number): number => 2 + f / 50;
    const quiet = [1, 50, 100].map((f) => sample(f, { renderSeconds: cost(f), denoiseSeconds: 0.5 }));
    // Half a processor: start-up, rendering and denoising take twice as long, the disk does not.
    const busy = quiet.map((s) => ({
      ...s,
      startupSeconds: 2 * s.startupSeconds,
      renderSeconds: 2 * s.renderSeconds,
      denoiseSeconds: 2 * s.denoiseSeconds,
      otherLoad: 0.5,
      cpuShare: 0.5,
    }));
    expect(estimateRun(model(busy), request)).toEqual(estimateRun(model(quiet), request));
    expect(model(busy)).toMatchObject({ corrected: 3, correction: 0.5, leftOut: 0, isBusy: false });
    expect(model(quiet)).toMatchObject({ corrected: 0, correction: 1, leftOut: 0 });
  });

  test("a program of its own is corrected by what its frames use on a quiet machine, and left out without such", () => {
    const own = { renderer: "lantern" };
    const [quiet, busy] = [
      sample(1, { renderSeconds: 2, cpuShare: 4 }),
      sample(100, { renderSeconds: 4, otherLoad: 0.5, cpuShare: 2 }),
    ];
    expect(costModel([quiet, busy], own)).toMatchObject({ corrected: 1, leftOut: 0, threads: 4 });
    expect(estimateRun(costModel([quiet, busy], own)!, request).work.render).toBeCloseTo(200, 6);
    expect(costModel([busy], own)).toMatchObject({ corrected: 0, isBusy: true, threads: 1 });
  });

  test("gathered light timed beside other work is corrected as well", () => {
    const light = (scene: string, seconds: number, cpuShare: number | null) => ({
      scene,
      seconds,
      otherLoad: 0.5,
      cpuShare,
    });
    const plan = { scene: "a", renderer: "stand-in" };
    expect(cacheSeconds([light("a", 4, 0.5), light("b", 9, 1)], plan)).toBe(2);
    expect(cacheSeconds([light("a", 4, null)], plan)).toBe(4);
    expect(cacheSeconds([light("b", 9, 1)], plan)).toBeNull();
  });

  test("a node of half the speed is seen, though it had the dear frames", () => {
    const cost = (f: number): number => 1 + f / 50;
    const samples = Array.from({ length: 60 }, (_, i) =>
      sample(
        i + 1,
        i % 2 === 0 ? { renderSeconds: cost(i + 1) } : { node: "b", renderSeconds: 2 * cost(i + 1) },
      ),
    );
    const { speeds } = model(samples);
    expect(speeds.get("a")! / speeds.get("b")!).toBeCloseTo(2, 1);
  });

  test("two cameras are twice the work", () =>
    expect(estimateRun(model([sample(50)]), { ...request, cameras: 2 }).likelySeconds).toBeCloseTo(
      2 * estimateRun(model([sample(50)]), request).likelySeconds,
      6,
    ));

  test("gathered light comes before all frames: its last one keeps every node waiting", () => {
    const m = model([sample(50)]);
    const lighting = { caches: 3, seconds: 5 };
    const [without, one, two] = [
      estimateRun(m, { ...request, speeds: [1, 1] }),
      estimateRun(m, { ...request, lighting }),
      estimateRun(m, { ...request, lighting, speeds: [1, 1] }),
    ];
    // Three of 5 s, with 0.2 s of start-up each: one after the other, or two rounds.
    expect(one.likelySeconds).toBeCloseTo(100 * 1.3 + 3 * 5.2, 6);
    expect(two.likelySeconds - without.likelySeconds).toBeCloseTo(2 * 5.2, 6);
    expect([one.work.lighting, one.work.startup]).toEqual([15, expect.closeTo(103 * 0.2, 6)]);
  });

  test("a time limit caps each frame", () =>
    expect(
      estimateRun(model([sample(1, { renderSeconds: 10 })]), {
        ...request,
        target: { ...request.target, timeLimit: 4 },
      }).work.render,
    ).toBeCloseTo(400, 6));
});

test("the curve goes through its points and never beyond them", () => {
  const curve = interpolation([0, 10, 20, 30], [1, 1, 5, 5]);
  const values = Array.from({ length: 41 }, (_, i) => curve(i - 5));
  expect([curve(0), curve(10), curve(20), curve(30)]).toEqual([1, 1, 5, 5]);
  expect([Math.min(...values), Math.max(...values)].map((v) => Math.round(v * 1e9) / 1e9)).toEqual([1, 5]);
});

describe("the list schedule", () => {
  test.each<[string, number[], number[], number]>([
    ["one node does one after the other", [1, 2, 3], [1], 6],
    ["two nodes share", [2, 2, 2, 2], [1, 1], 4],
    ["the last long frame decides", [1, 1, 1, 9], [1, 1], 10],
    ["a node twice as fast takes twice as many", [3, 3, 3, 3, 3, 3], [1, 2], 6],
    ["more nodes than frames", [4], [1, 1, 1], 4],
    ["nothing is done at once", [], [1], 0],
  ])("%s", (_what, render, speeds, end) =>
    expect(schedule({ render: Float64Array.from(render), aside: 0 }, speeds)).toBe(end),
  );
});

describe("backwards", () => {
  const m = model([
    sample(1, { renderSeconds: 10 }),
    sample(50, { renderSeconds: 10 }),
    sample(100, { renderSeconds: 10 }),
  ]);
  const now = estimateRun(m, request).lateSeconds;
  test("each single change that is proposed is there in time, and a little less of it is not", () => {
    const deadline = now * 0.52;
    const ways = waysBack(m, request, deadline);
    expect(ways.map((w) => w.change)).toEqual(["samples", "time-limit", "scale", "step", "nodes"]);
    const late = (change: Partial<typeof request>): number =>
      estimateRun(m, { ...request, ...change }).lateSeconds;
    for (const way of ways) {
      if (way.change === "samples")
        expect([
          late({ target: { ...request.target, samples: way.samples } }) <= deadline,
          late({ target: { ...request.target, samples: way.samples + 1 } }) > deadline,
          Math.round(way.grain * 100),
        ]).toEqual([true, true, Math.round(Math.sqrt(16 / way.samples) * 100)]);
      if (way.change === "scale")
        expect(late({ target: { ...request.target, pixels: PIXELS * way.factor ** 2 } })).toBeLessThanOrEqual(
          deadline,
        );
      if (way.change === "nodes") expect([way.more, late({ speeds: [1, 1] }) <= deadline]).toEqual([1, true]);
      if (way.change === "step") expect(way.step).toBe(2);
    }
  });
  test("nothing is proposed while the run is in time, and nothing that cannot be", () => {
    expect(waysBack(m, request, now * 1.1)).toEqual([]);
    expect(waysBack(m, request, 1).map((w) => w.change)).toEqual([]);
  });
});

test("the next proof goes where least is known: the ends, then the widest gap", () => {
  const asked = rangeSet(1, 101);
  expect([
    nextProof(asked, []),
    nextProof(asked, [1]),
    nextProof(asked, [1, 101]),
    nextProof(asked, [1, 51, 101]),
  ]).toEqual([1, 101, 51, 26]);
});
