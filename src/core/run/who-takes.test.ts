import { groupMark, groupOfMark, groupsOfNodes, mayTake, wantedText } from "./who-takes";

const quay = { name: "quay-1", groups: ["night", "farm"] };
const desk = { name: "desk", groups: [] };

test("a run is for every node, for those that it names, and for all of a group", () => {
  const who = (wanted: readonly string[] | null): readonly boolean[] =>
    [quay, desk].map((n) => mayTake(wanted, n));
  expect(who(null)).toEqual([true, true]);
  expect(who(["desk"])).toEqual([false, true]);
  expect(who([groupMark("farm")])).toEqual([true, false]);
  expect(who([groupMark("farm"), "desk"])).toEqual([true, true]);
  expect(who([groupMark("day")])).toEqual([false, false]);
  expect(who([])).toEqual([false, false]);
});

test("a node is no group of its name, nor a group a node", () => {
  expect(mayTake(["farm"], quay)).toBe(false);
  expect(mayTake([groupMark("quay-1")], quay)).toBe(false);
  expect([groupOfMark("farm"), groupOfMark("group:farm")]).toEqual([null, "farm"]);
  expect(["desk", "group:farm"].map(wantedText)).toEqual(["desk", "all of farm"]);
});

test("groups are those that somebody is in", () => {
  expect(groupsOfNodes([quay, desk, { name: "b", groups: ["farm"] }])).toEqual(["farm", "night"]);
});
