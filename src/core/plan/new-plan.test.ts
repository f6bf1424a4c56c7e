import { followTimeLine, newPlan } from "./new-plan";
import { readPlan } from "./plan";

const RATE = { numerator: 24, denominator: 1 };
const WISH = {
  scene: "scenes/a.json",
  renderer: "stand-in",
  cameras: ["main"],
  firstFrame: 1001,
  lastFrame: 1096,
};

test("a new plan asks for the whole time line and can be read", () => {
  const plan = newPlan(WISH, RATE, {});
  expect(plan.frames).toBe("1001-1096");
  expect(readPlan(plan)).toMatchObject({ ok: true });
});

test("two cameras or passes never get one name", () => {
  expect(newPlan({ ...WISH, cameras: ["quay", "mole"] }, RATE, {}).namePattern).toBe(
    "{shot}_{version}_{camera}.{frame}",
  );
  expect(newPlan(WISH, RATE, { passes: ["beauty", "depth"], namePattern: "{shot}.####" }).namePattern).toBe(
    "{shot}_{pass}.####",
  );
  expect(
    newPlan(WISH, RATE, { passes: ["beauty", "depth"], namePattern: "{pass}.{frame}" }).namePattern,
  ).toBe("{pass}.{frame}");
});

test("numbers have room for the last frame", () => {
  expect(newPlan({ ...WISH, lastFrame: 123_456 }, RATE, {}).digits).toBe(6);
  expect(newPlan(WISH, RATE, { digits: 5 }).digits).toBe(5);
});

test("what the project says of new plans wins over what is usual", () =>
  expect(newPlan(WISH, RATE, { width: 640, samples: 9 })).toMatchObject({
    width: 640,
    height: 1080,
    samples: 9,
  }));

test("a plan of the whole time line follows it, with its offset", () => {
  const plan = { ...newPlan(WISH, RATE, {}), offset: -1000, frames: "1-96" };
  expect(followTimeLine(plan, 1001, 1120)).toMatchObject({
    frames: "1-120",
    timeLine: { first: 1001, last: 1120 },
  });
});

test("a plan of some frames keeps them", () =>
  expect(followTimeLine({ ...newPlan(WISH, RATE, {}), frames: "1001-1096/2" }, 1001, 1120).frames).toBe(
    "1001-1096/2",
  ));
