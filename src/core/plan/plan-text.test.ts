import { readPlanSetting } from "./plan-text";

const value = (text: string): unknown => {
  const read = readPlanSetting(text);
  return read.ok ? read.value : read.message;
};

test.each([
  ["samples=64", 64],
  ["frames=1001", "1001"],
  ["frames=1-48,!40-50", "1-48,!40-50"],
  ["namePattern=####", "####"],
  ["cameras=quay, mole", ["quay", "mole"]],
  ["passes=beauty,depth", ["beauty", "depth"]],
  ["rate=23.976", { numerator: 24000, denominator: 1001 }],
  ["file=exr", { kind: "exr", depth: "half", compression: "zip" }],
  ['file={"kind":"jpeg","quality":80}', { kind: "jpeg", quality: 80 }],
  ["timeLimit=none", null],
  ["alpha=none", "none"],
  ["shutter=scene", "scene"],
  ["shutter=0.5", 0.5],
  ["keepSamples=true", true],
])("%s", (text, read) => expect(value(text)).toEqual(read));

test("what is no setting says so", () => {
  expect(value("samples")).toContain("key=value");
  expect(value("colour=red")).toContain('no "colour"; it has scene, cameras, frames');
  expect(value("__proto__=1")).toContain("no");
});
