import { isExternal, savesSamples } from "./renderer";

test("only the stand-in saves samples, and only where the plan wants it", () => {
  expect([
    savesSamples({ renderer: "stand-in", checkpoints: { kind: "on-stop" } }),
    savesSamples({ renderer: "stand-in", checkpoints: { kind: "never" } }),
    savesSamples({ renderer: "drawn", checkpoints: { kind: "on-stop" } }),
  ]).toEqual([true, false, false]);
  expect([isExternal({ renderer: "stand-in" }), isExternal({ renderer: "drawn" })]).toEqual([false, true]);
});
