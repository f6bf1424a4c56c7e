import { AttemptWatch } from "./attempt-watch";

/** Judged each second, as a node does. */
function judgedAfter(
  watch: AttemptWatch,
  seconds: number,
  each: (now: number) => void = () => undefined,
  memory: number | null = 500,
  limit: number | null = 4_000,
): string | null {
  for (let now = 1_000; now <= seconds * 1_000; now += 1_000) {
    each(now);
    const how = watch.judge(now, memory, limit);
    if (how !== null) return `${how} ${watch.failure!.code} at ${now / 1000} s`;
  }
  return null;
}

const watch = (timeLimit: number | null = 120) => new AttemptWatch(timeLimit, 60, 0);

test("a renderer that talks and ends in time goes on", () => {
  const w = watch();
  expect(judgedAfter(w, 119, (now) => w.heard(now))).toBeNull();
});
test("too much memory kills at once", () =>
  expect(judgedAfter(watch(), 9, undefined, 4_001)).toBe("kill memory-limit at 1 s"));
test("no limit of memory, or memory that cannot be told, kills nothing", () =>
  expect([judgedAfter(watch(), 9, undefined, 9_999, null), judgedAfter(watch(), 9, undefined, null)]).toEqual(
    [null, null],
  ));
test("silence kills", () => expect(judgedAfter(watch(), 99)).toBe("kill renderer-hangs at 61 s"));
test("over its time it is asked to save what it has, once", () => {
  const w = watch();
  const talk = (now: number) => w.heard(now);
  expect(judgedAfter(w, 200, talk)).toBe("save took-too-long at 121 s");
  expect(judgedAfter(w, 200, talk)).toBeNull();
});
test("while nothing is known of the time, none is too long", () => {
  const w = watch(null);
  expect(judgedAfter(w, 9_999, (now) => w.heard(now))).toBeNull();
});
test("waiting for room on a disk is not its time", () => {
  const w = watch();
  expect(
    judgedAfter(w, 300, (now) => {
      w.heard(now);
      if (now > 50_000 && now <= 250_000) w.noRoom(now);
    }),
  ).toBe(null);
});
test("what the node itself slept is not the renderer's time", () => {
  const w = watch();
  w.judge(1_000, null, null);
  expect([w.judge(3_601_000, null, null), w.judge(3_602_000, null, null), w.failure]).toEqual([
    null,
    null,
    null,
  ]);
});
