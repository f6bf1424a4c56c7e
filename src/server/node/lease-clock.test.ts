import fs from "node:fs";
import { LeaseClock, machineSeconds } from "./lease-clock";

test("a lease is over when its time has run out without a heartbeat that was taken", () => {
  const clock = new LeaseClock(25, 100);
  expect([clock.isOver(124.9), clock.isOver(125)]).toEqual([false, true]);
  clock.renewed(109, 110);
  expect([clock.isOver(134.9), clock.isOver(135)]).toEqual([false, true]);
});

test("an answer that is older than a lease says nothing of now: it lay there while the machine slept", () => {
  const clock = new LeaseClock(25, 100);
  clock.renewed(105, 110);
  clock.renewed(112, 3_712);
  expect(clock.isOver(3_712)).toBe(true);
});

test("a machine that slept for an hour wakes up without its lease, though its timers know nothing of it", () => {
  const clock = new LeaseClock(25, 100);
  clock.renewed(100, 101);
  expect(clock.isOver(101 + 3_600)).toBe(true);
});

test("the clock is the one that goes on in a sleep: the system's time since its start", () => {
  const before = Number(fs.readFileSync("/proc/uptime", "utf8").split(" ")[0]);
  const now = machineSeconds();
  const after = Number(fs.readFileSync("/proc/uptime", "utf8").split(" ")[0]);
  // In hundredths of a second, cut off.
  expect(now).toBeGreaterThanOrEqual(before - 0.011);
  expect(now).toBeLessThanOrEqual(after + 0.011);
});
