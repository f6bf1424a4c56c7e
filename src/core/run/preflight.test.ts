import { rangeSet, setOf } from "../frames/frame-set";
import { preflight, type PreflightFacts, verdictOf } from "./preflight";

const FINE: PreflightFacts = {
  cameras: ["main"],
  passes: ["beauty"],
  scene: { cameras: ["main", "side"], files: 3 },
  nodes: [{ node: "quay-1", answer: { cannotWrite: null, missing: [], different: [], renderers: [] } }],
  hazards: [],
  notes: [],
  policy: "fill",
  versions: [{ version: "v001", frames: rangeSet(1, 96), count: 96 }],
  lighting: null,
  render: 96,
  pictures: 96,
  keep: 0,
  replaceGood: 0,
  needBytes: 1e9,
  freeBytes: 2e9,
  foreign: [],
  leftovers: [],
  sameAgain: [],
  refinesAfresh: [],
  saved: { usable: 0, barred: [] },
};
const verdicts = (change: Partial<PreflightFacts>): string[] =>
  preflight({ ...FINE, ...change })
    .filter((p) => verdictOf(p) !== "fine")
    .map((p) => `${verdictOf(p)} ${p.code}`);
const node = (answer: NonNullable<PreflightFacts["nodes"]>[number]["answer"]): Partial<PreflightFacts> => ({
  nodes: [...FINE.nodes!, { node: "mole-1", answer }],
});

test("a run that is fine says what was looked at, and asks nothing", () => {
  expect(verdicts({})).toEqual([]);
  expect(preflight(FINE).map((p) => p.code)).toEqual(["passes", "nodes-ready", "space", "names", "frames"]);
});

test.each<[string, Partial<PreflightFacts>, string[]]>([
  [
    "a node without the texture",
    node({ cannotWrite: null, missing: ["textures/tower.png"], different: [], renderers: [] }),
    ["stop node-lacks-files"],
  ],
  [
    "a node with other bytes",
    node({ cannotWrite: null, missing: [], different: ["scene.json"], renderers: [] }),
    ["stop node-sees-other-files"],
  ],
  [
    "a node that cannot write",
    node({ cannotWrite: "EACCES", missing: [], different: [], renderers: [] }),
    ["stop node-cannot-write"],
  ],
  [
    "a node without the renderer's program",
    node({ cannotWrite: null, missing: [], different: [], renderers: ["hex: there is no program /opt/hex"] }),
    ["stop node-lacks-renderer"],
  ],
  ["a node that does not answer", node(null), ["ask node-silent"]],
  ["no node at all", { nodes: [] }, ["ask no-node"]],
  ["frames that are handed out: no node is asked", { nodes: null }, []],
  ["gathered light to be made first", { lighting: { make: 12, unfit: 2, there: 1, isOnly: false } }, []],
  [
    "a scene that still writes no pictures",
    { lighting: { make: 0, unfit: 0, there: 3, isOnly: true } },
    ["stop writes-no-pictures"],
  ],
  ["a disk without room", { needBytes: 3e9 }, ["stop space-short"]],
  ["a camera that the scene lost", { cameras: ["main", "top"] }, ["stop camera-missing"]],
  ["a scene that cannot be read", { scene: { fault: "not JSON" } }, ["stop scene-unreadable"]],
  ["good frames that would be made again", { policy: "all", replaceGood: 12 }, ["ask frames"]],
  ["nothing to do", { render: 0 }, ["stop nothing-to-render"]],
  [
    "another sequence in the folder",
    { foreign: [{ folder: "main/beauty", names: ["old.####.png"] }] },
    ["ask foreign-files"],
  ],
  ["leftovers", { leftovers: ["a.0001.png.part3"] }, ["ask leftovers"]],
  ["frames that go on from saved samples", { saved: { usable: 3, barred: [] } }, []],
  [
    "saved samples that cannot be used any more",
    { saved: { usable: 0, barred: [{ frames: setOf([4, 5]), bar: { code: "sums-not-kept" } }] } },
    ["ask starts-over"],
  ],
  [
    "rejected frames that would come out the same",
    { sameAgain: [{ frames: setOf([12]), reasons: ["too grainy"], nodes: ["quay-1"], isStandIn: true }] },
    ["ask same-again"],
  ],
  [
    "frames to refine that no samples were kept of",
    { refinesAfresh: [{ frames: rangeSet(1, 12), seconds: 720, keepsSamples: false }] },
    ["ask refines-afresh"],
  ],
  ["a leftover of a rough run", { notes: [{ code: "quick-shading", shading: "direct" }] }, ["ask note"]],
])("%s", (_what, change, expected) => expect(verdicts(change)).toEqual(expected));

test("a run over several versions says what it renders of each", () =>
  expect(
    preflight({
      ...FINE,
      versions: [
        { version: "v001", frames: rangeSet(1, 48), count: 96 },
        { version: "v002", frames: setOf([7]), count: 1 },
      ],
    }).find((p) => p.code === "versions"),
  ).toEqual({
    code: "versions",
    versions: [
      { version: "v001", frames: "1-48", count: 96 },
      { version: "v002", frames: "7", count: 1 },
    ],
  }));

test("what stops comes before what asks", () =>
  expect(verdicts({ ...node(null), needBytes: 3e9 })).toEqual(["stop space-short", "ask node-silent"]));
