/** Whole shots with faults of known truth; twenty are measured by `npm run bench -- --only messes`. */
import { scoreOf } from "../../../tests/support/messes/score";
import { USUAL_THRESHOLDS } from "./odd";

test.each([1, 12])("what was put into shot %i is found, and nothing else is told", (seed) => {
  const { faults, falseAlarms, overlooked } = scoreOf(seed, USUAL_THRESHOLDS);
  expect([...faults.values()].reduce((sum, { there }) => sum + there, 0)).toBeGreaterThan(10);
  expect({ overlooked, falseAlarms }).toEqual({ overlooked: [], falseAlarms: [] });
});
