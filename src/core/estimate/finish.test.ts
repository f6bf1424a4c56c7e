import { estimateFinish } from "./finish";

test("frames left over the nodes at work, times what a frame takes", () =>
  expect(estimateFinish({ left: 9, recentSeconds: [10, 20, 30], lanes: 2 })).toEqual({ secondsAFrame: 20, secondsLeft: 80 }));

test.each([
  ["before the first frame is done", { left: 9, recentSeconds: [], lanes: 2 }],
  ["while nothing renders", { left: 9, recentSeconds: [3], lanes: 0 }],
  ["with nothing left", { left: 0, recentSeconds: [3], lanes: 1 }],
])("no figure %s", (_when, pace) => expect(estimateFinish(pace)).toBeNull());
