import { CpuMeter } from "./cpu-meter";

test("each frame of a call has the share of its own stretch", () => {
  const meter = new CpuMeter(1_000);
  meter.look(2_000, 0.5);
  meter.look(3_000, 1);
  expect(meter.take()).toBe(0.5);
  meter.look(4_000, 3);
  expect(meter.take()).toBe(2);
});

test("over a short stretch, and without a look, nothing is told", () => {
  const meter = new CpuMeter(1_000);
  meter.look(1_400, 0.4);
  expect(meter.take()).toBeNull();
  meter.look(9_000, null);
  expect(meter.take()).toBeNull();
});

test("a process that has ended without being counted takes nothing away", () => {
  const meter = new CpuMeter(0);
  meter.look(1_000, 1);
  meter.look(2_000, 0.2);
  expect(meter.take()).toBe(1);
});
