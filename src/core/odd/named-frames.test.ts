import { rangeSet } from "../frames/frame-set";
import { formatPhrase } from "../frames/phrase";
import { namedFrames } from "./named-frames";

test("markers named for a flash, a cut or a hold say what is meant there; others say nothing", () => {
  const { flashes, holds } = namedFrames({
    "Flash 1": rangeSet(10, 11),
    "cut to the quay": rangeSet(20, 20),
    hold: rangeSet(30, 40),
    "foghorn hold": rangeSet(50, 60),
  });
  expect([formatPhrase(flashes), formatPhrase(holds)]).toEqual(["10-11,20", "30-40"]);
});
