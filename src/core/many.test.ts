import { addAll, largest, least } from "./many";

test("least and largest of more values than a call takes arguments", () => {
  const many = Array.from({ length: 500_000 }, (_, i) => i);
  many.push(-3);
  many.unshift(700_000);
  expect([least(many), largest(many)]).toEqual([-3, 700_000]);
  expect([least([]), largest([])]).toEqual([Infinity, -Infinity]);
});

test("as many are added to a list", () => {
  const list = [1];
  addAll(
    list,
    Array.from({ length: 500_000 }, () => 2),
  );
  expect(list).toHaveLength(500_001);
});
