import { type Claimant, judgeName, LOOK_AGAIN_SECONDS } from "./node-name";

const ME: Claimant = { host: "quay", pid: 1, freshSeconds: 25, isAlive: (pid) => pid === 77 };
const holder = { stopped: false, secondsSinceSeen: 0.4, host: "quay", pid: 77 };

test.each([
  ["a living process of this host holds it", {}, "taken"],
  ["its process has ended", { pid: 78 }, "free"],
  ["it ended by itself", { stopped: true }, "free"],
  // After a power cut the number is another program's.
  ["its number lives, and it has not shown itself for long", { secondsSinceSeen: 25 }, "free"],
  ["another host shows itself under it", { host: "pier", pid: 1 }, "taken"],
  ["another host has not shown itself for long", { host: "pier", pid: 77, secondsSinceSeen: 30 }, "free"],
  ["it has our own number, and was there just now", { pid: 1 }, "look-again"],
])("%s: %p", (_what, change, verdict) =>
  expect(judgeName({ ...holder, ...change }, ME, false)).toBe(verdict),
);

test("with our own number: one that shows itself again is another container, one that does not was before us", () => {
  expect(judgeName({ ...holder, pid: 1, secondsSinceSeen: 0.4 }, ME, true)).toBe("taken");
  expect(judgeName({ ...holder, pid: 1, secondsSinceSeen: LOOK_AGAIN_SECONDS + 0.4 }, ME, true)).toBe("free");
});
