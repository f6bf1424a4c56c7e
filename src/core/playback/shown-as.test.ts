import { PLAIN_LOOK, STEP_STOPS, steppedStops, STOPS } from "./shown-as";

test("a step of the exposure ends where the field does", () => {
  expect(steppedStops(PLAIN_LOOK, 1).stops).toBe(STEP_STOPS);
  expect(steppedStops({ ...PLAIN_LOOK, stops: STOPS.most }, 1).stops).toBe(STOPS.most);
  expect(steppedStops({ ...PLAIN_LOOK, stops: STOPS.least }, -1).stops).toBe(STOPS.least);
});
