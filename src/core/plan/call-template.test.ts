import { fillTemplate, unknownNames } from "./call-template";

const values = { scene: "/a b/s.json", width: 48, height: 27, camera: "main; rm" };

test("each argument stays one, whatever its values hold", () =>
  expect(
    fillTemplate(["render", "{scene}", "--size", "{width}x{height}", "--camera={camera}"], values),
  ).toEqual(["render", "/a b/s.json", "--size", "48x27", "--camera=main; rm"]));
test("a value that looks like a name is not filled in again", () =>
  expect(fillTemplate(["{scene}"], { scene: "{width}", width: 1 })).toEqual(["{width}"]));
test("braces around something else are left as they are, and told", () => {
  expect(fillTemplate(["{pixels}", "{}", "{constructor}"], values)).toEqual([
    "{pixels}",
    "{}",
    "{constructor}",
  ]);
  expect(unknownNames(["{scene}", "{pixels} {width}"], Object.keys(values))).toEqual(["pixels"]);
});
