import { type BlameFacts, type FailedAttempt, judge, retryPause } from "./blame";

const NOTHING: BlameFacts = {
  failed: [],
  made: new Map(),
  firsts: [],
  makers: new Set(),
  takers: ["a", "b", "c"],
};
const failed = (task: number, node: string, code = "engine-error"): FailedAttempt => ({
  task,
  frame: 1000 + task,
  node,
  code,
});
const given = (facts: Partial<BlameFacts>) => judge({ ...NOTHING, makers: new Set(["c"]), ...facts });

describe("a frame", () => {
  test("that failed once is blamed for nothing", () =>
    expect(given({ failed: [failed(1, "a")] })).toEqual({ scene: null, nodes: [], tasks: [] }));
  test("that failed on two nodes is set aside", () =>
    expect(given({ failed: [failed(1, "a"), failed(1, "b")] }).tasks).toEqual([1]));
  test("that failed twice on one node waits for another that may try", () =>
    expect(given({ failed: [failed(1, "a"), failed(1, "a")] }).tasks).toEqual([]));
  test("that failed twice where one node is alone is set aside", () =>
    expect(
      given({ takers: ["a"], makers: new Set(["a"]), failed: [failed(1, "a"), failed(1, "a")] }).tasks,
    ).toEqual([1]));
  test("that was made after all is not set aside", () =>
    expect(given({ failed: [failed(1, "a"), failed(1, "b")], made: new Map([[1, "c"]]) }).tasks).toEqual([]));
});

describe("a node", () => {
  const three = [failed(1, "a", "engine-died"), failed(2, "a", "engine-died"), failed(3, "a")];
  const made = new Map([
    [1, "b"],
    [2, "c"],
    [3, "b"],
  ]);
  test("that failed on three frames which others made is set aside, with the frames and its usual error", () =>
    expect(given({ failed: three, made }).nodes).toEqual([
      { node: "a", frames: [1001, 1002, 1003], code: "engine-died" },
    ]));
  test("is not blamed while others have made only two of them", () =>
    expect(
      given({
        failed: three,
        made: new Map([
          [1, "b"],
          [2, "c"],
        ]),
      }).nodes,
    ).toEqual([]));
  test("is not blamed for one frame that failed three times", () =>
    expect(given({ failed: [failed(1, "a"), failed(1, "a"), failed(1, "a")], made }).nodes).toEqual([]));
  test("that made the frames itself in the end is not blamed", () =>
    expect(
      given({
        failed: three,
        made: new Map([
          [1, "a"],
          [2, "a"],
          [3, "a"],
        ]),
      }).nodes,
    ).toEqual([]));
  test("that is to blame counts no more against a frame", () =>
    expect(given({ failed: [...three, failed(4, "a"), failed(4, "b")], made })).toMatchObject({
      nodes: [{ node: "a" }],
      tasks: [],
    }));
});

describe("the scene", () => {
  const first = (node: string, task: number, code: string | null = "texture-missing") => ({
    node,
    task,
    code,
  });
  const all = [
    failed(1, "a", "texture-missing"),
    failed(2, "b", "texture-missing"),
    failed(3, "c", "texture-missing"),
  ];
  const none = { makers: new Set<string>() };
  test("is to blame when every node's first frame ended in the same error", () =>
    expect(
      given({ ...none, failed: all, firsts: [first("a", 1), first("b", 2), first("c", 3)] }).scene,
    ).toEqual({ code: "texture-missing", nodes: ["a", "b", "c"], frames: [1001, 1002, 1003] }));
  test("is not while a node's first frame is still in work", () =>
    expect(
      given({ ...none, failed: all.slice(0, 2), firsts: [first("a", 1), first("b", 2)] }).scene,
    ).toBeNull());
  test("is not when the errors differ", () =>
    expect(
      given({
        ...none,
        failed: [...all.slice(0, 2), failed(3, "c", "engine-died")],
        firsts: [first("a", 1), first("b", 2), first("c", 3, "engine-died")],
      }).scene,
    ).toBeNull());
  test("is not when somebody made a frame", () =>
    expect(
      given({
        makers: new Set(["c"]),
        failed: all.slice(0, 2),
        firsts: [first("a", 1), first("b", 2), first("c", 3, null)],
      }).scene,
    ).toBeNull());
  test("is not for one frame that every node tried first: that is the frame", () =>
    expect(
      given({
        ...none,
        takers: ["a", "b"],
        failed: [failed(1, "a"), failed(1, "b")],
        firsts: [first("a", 1, "engine-error"), first("b", 1, "engine-error")],
      }),
    ).toMatchObject({ scene: null, tasks: [1] }));
  test("is to blame with one node alone after its first two frames", () => {
    const alone = { ...none, takers: ["a"], firsts: [first("a", 1)] };
    expect(given({ ...alone, failed: [failed(1, "a", "texture-missing")] }).scene).toBeNull();
    expect(
      given({ ...alone, failed: [failed(1, "a", "texture-missing"), failed(2, "a", "texture-missing")] })
        .scene,
    ).toEqual({ code: "texture-missing", nodes: ["a"], frames: [1001, 1002] });
  });
});

test("a run of which no node may take a frame blames nobody", () =>
  expect(given({ takers: [], failed: [failed(1, "a")] })).toEqual({ scene: null, nodes: [], tasks: [] }));

test("pauses grow threefold up to five minutes, spread by a quarter", () => {
  expect([1, 2, 3, 9].map((tries) => retryPause(tries, 0.5))).toEqual([2, 6, 18, 300]);
  expect([retryPause(1, 0), retryPause(1, 1)]).toEqual([1.5, 2.5]);
});
