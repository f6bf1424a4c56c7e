import {
  degreesAFrame,
  framesOfPath,
  framesOfTurn,
  moveFault,
  pathLength,
  type PathMove,
  pathSpeed,
  type Point,
  type TurnMove,
  viewOf,
} from "./camera-move";

const turn: TurnMove = {
  kind: "turn",
  subject: [1, 2, 3],
  distance: 5,
  height: 2,
  direction: "clockwise",
  startAngle: 0,
  degrees: 360,
  isLoop: true,
  ease: "even",
};
const path: PathMove = {
  kind: "path",
  points: [
    [0, 0, 0],
    [3, 4, 0],
    [3, 4, 12],
  ],
  target: [0, 0, 0],
  ease: "even",
};
const rate = { numerator: 24, denominator: 1 };
const near = (a: Point, b: Point): void => a.forEach((v, i) => expect(v).toBeCloseTo(b[i]!, 9));

describe("a full turn around the subject", () => {
  test("begins in front of it, and keeps its distance and height", () => {
    near(viewOf(turn, 0, 96).position, [1, 4, 8]);
    for (let i = 0; i < 96; i++) {
      const [x, y, z] = viewOf(turn, i, 96).position;
      expect([Math.hypot(x - 1, z - 3), y]).toEqual([expect.closeTo(5, 9), 4]);
    }
  });
  test("as a loop it stops one step short of its first frame; open, it comes back to it", () => {
    near(viewOf(turn, 96, 96).position, viewOf(turn, 0, 96).position);
    expect(viewOf(turn, 95, 96).position[0]).not.toBeCloseTo(1, 1);
    near(viewOf({ ...turn, isLoop: false }, 95, 96).position, viewOf(turn, 0, 96).position);
    expect([degreesAFrame(turn, 96), degreesAFrame({ ...turn, isLoop: false }, 97)]).toEqual([3.75, 3.75]);
  });
  test("frames and degrees a frame follow from one another", () => {
    for (const move of [turn, { ...turn, isLoop: false }])
      for (const frames of [24, 96, 250])
        expect(framesOfTurn(move, degreesAFrame(move, frames))).toBe(frames);
  });
  test("anticlockwise is the mirror image", () => {
    const [a, b] = [
      viewOf(turn, 10, 96).position,
      viewOf({ ...turn, direction: "anticlockwise" }, 10, 96).position,
    ];
    expect([a[0] - 1, a[2]]).toEqual([expect.closeTo(-(b[0] - 1), 9), expect.closeTo(b[2], 9)]);
  });
});

describe("a move along points", () => {
  test("passes each of them, at even speed", () => {
    expect(pathLength(path)).toBe(17);
    near(viewOf(path, 0, 18).position, [0, 0, 0]);
    near(viewOf(path, 5, 18).position, [3, 4, 0]);
    near(viewOf(path, 17, 18).position, [3, 4, 12]);
  });
  test("frames and speed follow from one another", () => {
    expect(pathSpeed(path, 25, rate)).toBe(17);
    for (const frames of [25, 97, 300])
      expect(framesOfPath(path, pathSpeed(path, frames, rate), rate)).toBe(frames);
  });
  test("eased, it starts and ends slowly and is half way in the middle", () => {
    const eased = {
      ...path,
      points: [
        [0, 0, 0],
        [10, 0, 0],
      ] as const,
      ease: "eased" as const,
    };
    expect(
      [
        viewOf(eased, 1, 11).position[0],
        viewOf(eased, 5, 11).position[0],
        viewOf(eased, 9, 11).position[0],
      ].map((v) => Math.round(v * 100) / 100),
    ).toEqual([0.28, 5, 9.72]);
  });
});

test.each([
  [{ ...turn, distance: 0 }, "distance"],
  [{ ...turn, degrees: -1 }, "above 0 degrees"],
  [{ ...turn, startAngle: NaN }, "start angle"],
  [{ ...turn, subject: [NaN, 0, 0] as Point }, "three numbers"],
  [{ ...path, points: [[0, 0, 0]] as Point[] }, "two points"],
  [{ ...path, target: [Infinity, 0, 0] as Point }, "three numbers"],
  [{ ...path, points: Array.from({ length: 201 }, (): Point => [0, 0, 0]) }, "200 points"],
])("a move that cannot be is told", (move, text) => expect(moveFault(move)).toContain(text));
test("sound moves have no fault", () => expect([moveFault(turn), moveFault(path)]).toEqual([null, null]));

test("what is looked at may go along a line of its own, at the same share of its way", () => {
  const both: PathMove = {
    ...path,
    targetPath: [
      [0, 0, 0],
      [10, 0, 0],
    ],
  };
  expect(moveFault(both)).toBeNull();
  near(viewOf(both, 0, 11).target, [0, 0, 0]);
  near(viewOf(both, 5, 11).target, [5, 0, 0]);
  near(viewOf(both, 10, 11).target, [10, 0, 0]);
  near(viewOf(both, 5, 11).position, viewOf(path, 5, 11).position);
  expect(moveFault({ ...both, targetPath: [[0, 0, 0]] })).toMatch(/two points/);
  expect(
    moveFault({
      ...both,
      targetPath: [
        [0, 0, 0],
        [0, Number.NaN, 0],
      ],
    }),
  ).toMatch(/three numbers/);
});
