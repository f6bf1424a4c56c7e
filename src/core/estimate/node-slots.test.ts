import { nodeSlots, type PlannedNode } from "./node-slots";

const node = (name: string, host: string, change: Partial<PlannedNode> = {}): PlannedNode => ({
  name,
  host,
  cores: 1,
  processors: 2,
  ...change,
});
const rounded = (values: readonly number[]): number[] => values.map((v) => Math.round(v * 1000) / 1000);

test("three nodes on two processors give what two do; a machine of its own is as fast as ever", () => {
  const { speeds, crowded } = nodeSlots(
    [node("quay-1", "quay"), node("quay-2", "quay"), node("quay-3", "quay"), node("mole", "mole")],
    new Map([["mole", 1.5]]),
    1,
  );
  expect(rounded(speeds)).toEqual([0.667, 0.667, 0.667, 1.5]);
  expect(crowded).toEqual([{ host: "quay", slots: 3, processors: 2 }]);
});

test("a node that renders two frames at once is two slots", () =>
  expect(nodeSlots([node("quay-1", "quay", { cores: 2 })], new Map([["quay-1", 2]]), 1)).toEqual({
    speeds: [2, 2],
    crowded: [],
  }));

test("frames that keep all processors busy go one after the other, whoever renders them", () =>
  expect(
    nodeSlots([node("a", "quay", { processors: 8 }), node("b", "quay", { processors: 8 })], new Map(), 16)
      .speeds,
  ).toEqual([0.5, 0.5]));

test("a node that does not say how many there are is taken as it is, and none at all as one", () => {
  const unsaid = { processors: null };
  expect(nodeSlots([node("a", "quay", unsaid), node("b", "quay", unsaid)], new Map(), 1)).toEqual({
    speeds: [1, 1],
    crowded: [],
  });
  expect(nodeSlots([], new Map(), 1)).toEqual({ speeds: [1], crowded: [] });
});
