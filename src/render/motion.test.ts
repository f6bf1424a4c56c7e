import type { Scene } from "@/contract/scene";
import { type Glimpse, motionEnd, sweepMotion } from "./motion";

const still: Scene = {
  format: "plain-tally-scene/1",
  frameRate: 24,
  shutter: 0,
  exposure: 1,
  sky: { zenith: [1, 1, 1], horizon: [1, 1, 1], ground: [1, 1, 1] },
  cameras: [
    { name: "main", position: [0, 0, 6], target: [0, 0, 0], focalLength: 50 },
    {
      name: "side",
      position: {
        keys: [
          { frame: 1, value: [0, 0, 0] },
          { frame: 90, value: [1, 0, 0] },
        ],
      },
      target: [0, 0, 0],
      focalLength: 50,
    },
  ],
  materials: { m: { kind: "diffuse", colour: [1, 1, 1] } },
  bodies: [{ shape: "sphere", material: "m" }],
};
const moving = (frames: readonly number[], values: readonly number[]): Scene => ({
  ...still,
  bodies: [
    {
      children: [
        {
          shape: "sphere",
          material: "m",
          position: { keys: frames.map((frame, i) => ({ frame, value: [values[i]!, 0, 0] as const })) },
        },
      ],
    },
  ],
});

test.each<[string, Scene, string, number | null]>([
  ["nothing moves", still, "main", -Infinity],
  ["the camera moves", still, "side", 90],
  ["the last key that changes anything counts", moving([1, 48, 96], [0, 1, 1]), "main", 48],
  [
    "water never rests",
    {
      ...still,
      materials: { m: { kind: "diffuse", colour: [1, 1, 1], ripples: { height: 0.1, length: 1, speed: 1 } } },
    },
    "main",
    null,
  ],
  [
    "a lamp that flickers moves too",
    {
      ...still,
      materials: {
        m: {
          kind: "emitter",
          colour: [1, 1, 1],
          strength: {
            keys: [
              { frame: 1, value: 1 },
              { frame: 30, value: 2 },
            ],
          },
        },
      },
    },
    "main",
    30,
  ],
])("%s", (_what, scene, camera, end) => expect(motionEnd(scene, camera)).toBe(end));

describe("a sweep of thumbnails", () => {
  const looks: number[] = [];
  const shot =
    (movesUntil: number, emptyFrom: number) =>
    async (frame: number): Promise<Glimpse> => {
      looks.push(frame);
      return {
        mark: frame >= emptyFrom ? "sky" : String(Math.min(frame, movesUntil)),
        isEmpty: frame >= emptyFrom,
      };
    };
  beforeEach(() => (looks.length = 0));
  test.each([
    [1001, 1096, 1088, Infinity, { movesUntil: 1087, emptyFrom: null }],
    [1001, 1096, 2000, 1060, { movesUntil: 1059, emptyFrom: 1060 }],
    [1001, 1096, 2000, Infinity, { movesUntil: null, emptyFrom: null }],
    [1, 4, 0, Infinity, { movesUntil: 0, emptyFrom: null }],
    [1, 1, 0, Infinity, { movesUntil: null, emptyFrom: null }],
  ])("%p-%p moving until %p, empty from %p", async (first, last, until, empty, found) => {
    expect(await sweepMotion(first, last, shot(until, empty))).toEqual(found);
    expect(looks.length).toBeLessThan(80);
  });
});

test("the end of a motion in a million frames costs less than a hundred pictures", async () => {
  const asked = new Set<number>();
  const glimpse = (frame: number): Promise<Glimpse> => {
    asked.add(frame);
    return Promise.resolve({ mark: frame <= 123_456 ? `${frame}` : "still", isEmpty: false });
  };
  expect(await sweepMotion(1, 1_000_000, glimpse)).toEqual({ movesUntil: 123_456, emptyFrom: null });
  expect(asked.size).toBeLessThan(100);
});
