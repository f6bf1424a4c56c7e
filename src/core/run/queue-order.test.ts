import { inQueueOrder, mayWaitFor, movedBefore, type QueuedRun, UNMOVED } from "./queue-order";

const run = (id: number, priority = 0, place = UNMOVED): QueuedRun => ({ id, priority, place });
/** The queue after a move, as ids. */
function after(queue: readonly QueuedRun[], moved: readonly number[], before: number | null) {
  const changed = new Map(movedBefore(queue, moved, before).map((r) => [r.id, r]));
  return inQueueOrder(queue.map((r) => changed.get(r.id) ?? r));
}
const ids = (queue: readonly QueuedRun[]): number[] => queue.map(({ id }) => id);

test("a run that is put before another one goes before it, and what stood before that one still does", () =>
  expect(ids(after([run(1), run(2), run(3), run(4)], [4], 2))).toEqual([1, 4, 2, 3]));

test("several keep their order, wherever they stood", () =>
  expect(ids(after([run(1), run(2), run(3), run(4)], [4, 2], 1))).toEqual([2, 4, 1, 3]));

test("those behind that nobody moved go on sharing the nodes", () => {
  const queue = after([run(1), run(2), run(3), run(4)], [2], 1);
  expect(queue.map(({ id, place }) => [id, place])).toEqual([
    [2, 1],
    [1, UNMOVED],
    [3, UNMOVED],
    [4, UNMOVED],
  ]);
});

test("before a run of another priority it takes that priority, at the end that of the last one", () => {
  const queue = [run(1, 1), run(2), run(3, -1)];
  expect(after(queue, [3], 1)[0]).toMatchObject({ id: 3, priority: 1 });
  expect(after(queue, [1], null).at(-1)).toMatchObject({ id: 1, priority: -1 });
});

test("an order that was made stays when another run is moved behind it", () => {
  const first = after([run(1), run(2), run(3), run(4)], [3], 1);
  expect(ids(after(first, [4], 2))).toEqual([3, 1, 4, 2]);
});

test("a run alone, one that is not there, and a move that changes nothing change nothing", () => {
  expect(movedBefore([run(1)], [1], null)).toEqual([]);
  expect(movedBefore([run(1), run(2)], [7], 1)).toEqual([]);
  const placed = after([run(1), run(2)], [2], 1);
  expect(movedBefore(placed, [2], 1)).toEqual([]);
});

test("no run waits for itself, however many stand between", () => {
  const waitsFor = new Map([
    [2, 1],
    [3, 2],
  ]);
  expect(mayWaitFor(1, 3, waitsFor)).toBe(false);
  expect(mayWaitFor(1, 1, waitsFor)).toBe(false);
  expect(mayWaitFor(4, 3, waitsFor)).toBe(true);
});
