import { isExternal, savesSamples } from "./renderer";
import { STAND_IN_OFFER } from "./renderer-offer";

test("what a frame has so far is saved where its renderer keeps it and the plan wants it", () => {
  const keepsNothing = { keepsState: false };
  expect([
    savesSamples({ checkpoints: { kind: "on-stop" } }, STAND_IN_OFFER),
    savesSamples({ checkpoints: { kind: "never" } }, STAND_IN_OFFER),
    savesSamples({ checkpoints: { kind: "on-stop" } }, keepsNothing),
  ]).toEqual([true, false, false]);
  expect([isExternal({ renderer: "stand-in" }), isExternal({ renderer: "drawn" })]).toEqual([false, true]);
});
