import fs from "node:fs";
import path from "node:path";
import { checkScene, type Scene, textureFiles } from "./scene";

const folder = path.join(__dirname, "../demo/scenes");
const read = (name: string): Record<string, unknown> =>
  JSON.parse(fs.readFileSync(path.join(folder, name), "utf8")) as Record<string, unknown>;
const names = fs.readdirSync(folder).filter((name) => name.endsWith(".json"));

test("there are demo scenes", () =>
  expect(names).toEqual(["hl010.json", "hl020.json", "hl030.json", "hl040.json"]));

test.each(names)("%s fits the schema, and every texture it names is there", (name) => {
  const checked = checkScene(read(name));
  expect(checked).toMatchObject({ ok: true });
  for (const file of textureFiles((checked as { value: Scene }).value))
    expect(fs.existsSync(path.join(folder, file))).toBe(true);
});

const base = read("hl030.json");
test.each<[string, Record<string, unknown>, string, string]>([
  ["an unknown key", { ...base, fog: 1 }, "", 'the key "fog" is not known'],
  [
    "a key that is missing",
    Object.fromEntries(Object.entries(base).filter(([key]) => key !== "sky")),
    "",
    'the key "sky" is missing',
  ],
  ["another format", { ...base, format: "scene/9" }, "/format", 'must be "plain-tally-scene/1"'],
  ["no camera", { ...base, cameras: [] }, "/cameras", "must name at least 1"],
  [
    "a body of a material that is not there",
    { ...base, bodies: [{ shape: "sphere", material: "moon" }] },
    "/bodies/0/material",
    'there is no material "moon"',
  ],
  [
    "a shape without a material",
    { ...base, bodies: [{ shape: "sphere" }] },
    "/bodies/0",
    "a shape and a material go together",
  ],
  [
    "keys that do not ascend",
    {
      ...base,
      bodies: [
        {
          position: {
            keys: [
              { frame: 5, value: [0, 0, 0] },
              { frame: 5, value: [1, 0, 0] },
            ],
          },
        },
      ],
    },
    "/bodies/0/position",
    "the keys must ascend in frames",
  ],
  [
    "a negative colour",
    { ...base, materials: { m: { kind: "diffuse", colour: [-1, 0, 0] } }, bodies: [] },
    "/materials/m/colour/0",
    "must be at least 0",
  ],
])("%s is told with its place", (_name, scene, at, message) => {
  const checked = checkScene(scene);
  expect(!checked.ok && checked.faults).toContainEqual(expect.objectContaining({ path: at, message }));
});
