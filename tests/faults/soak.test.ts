/** Sixty faults in one go, with a fixed seed. */
import { soak } from "./soak";

const FAULTS = 60;
const SEED = 7;
/** The last of them tell what stood when it failed. */
const LINES_TOLD = 40;

test("after sixty faults every frame is good and bit for bit as undisturbed, none was rendered twice without a reason, nothing is left over", async () => {
  const told: string[] = [];
  const result = await soak({ faults: FAULTS, seed: SEED, tell: (text) => told.push(text) }).catch(
    (error: Error) => {
      throw new Error(`${error.stack}\n${told.slice(-LINES_TOLD).join("\n")}`);
    },
  );
  if (!result.holds) throw new Error(`${JSON.stringify(result)}\n${told.slice(-LINES_TOLD).join("\n")}`);
  expect(result).toEqual({
    faults: FAULTS,
    frames: result.frames,
    good: result.frames,
    lost: 0,
    doubled: 0,
    leftovers: 0,
    unlike: 0,
    holds: true,
  });
  expect(result.frames).toBeGreaterThanOrEqual(32);
}, 1_800_000);
