import { placeDropped, usedByScene } from "./dropped-scenes";

const file = (path: string, uses: readonly string[] | null = null) => ({ path, uses });

test("a folder keeps its shape", () => {
  const placed = placeDropped([
    file("lamp/scene.json", ["textures/brass.png"]),
    file("lamp/textures/brass.png"),
  ]);
  expect(placed).toEqual({
    files: [
      { path: "lamp/scene.json", to: "lamp/scene.json" },
      { path: "lamp/textures/brass.png", to: "lamp/textures/brass.png" },
    ],
    scenes: ["lamp/scene.json"],
    missing: [],
  });
});

test("a texture dropped beside its scene goes where the scene looks for it", () =>
  expect(placeDropped([file("lamp.json", ["textures/brass.png"]), file("brass.png")]).files).toContainEqual({
    path: "brass.png",
    to: "textures/brass.png",
  }));

test("what nobody dropped is missing, and what leads out of everything too", () =>
  expect(placeDropped([file("lamp.json", ["a.png", "../../b.png"])]).missing).toEqual([
    { scene: "lamp.json", name: "a.png" },
    { scene: "lamp.json", name: "../../b.png" },
  ]));

test("one texture for two scenes of one folder serves both", () =>
  expect(
    placeDropped([
      file("a.json", ["textures/t.png"]),
      file("b.json", ["textures/t.png"]),
      file("textures/t.png"),
    ]).missing,
  ).toEqual([]));

test("a texture that was moved for one scene serves another that looks at the same place", () =>
  expect(
    placeDropped([file("a.json", ["textures/t.png"]), file("b.json", ["textures/t.png"]), file("t.png")]),
  ).toMatchObject({ missing: [], files: [{}, {}, { to: "textures/t.png" }] }));

test("a scene tells what it uses, as far as it can be understood; anything else is none", () => {
  const format = "plain-tally-scene/1";
  const materials = { a: { texture: "t.png" }, b: { texture: "t.png" }, c: { texture: 3 }, d: null };
  expect(usedByScene({ format, materials })).toEqual(["t.png"]);
  expect(usedByScene({ format })).toEqual([]);
  for (const value of [null, 3, "x", [], {}, { format: "another-scene/1" }, { format: 1 }])
    expect(usedByScene(value)).toBeNull();
});
