import { FIELD_WORD } from "../shot/plan-words";
import { GROUPS } from "./groups";

test("every setting of the plan stands in one group: what is wrong or changed is told at its title", () => {
  const inGroups = GROUPS.flatMap((group): readonly string[] => group.fields);
  expect(inGroups.length).toBeGreaterThan(20);
  expect([...inGroups].sort()).toEqual(Object.keys(FIELD_WORD).sort());
});
