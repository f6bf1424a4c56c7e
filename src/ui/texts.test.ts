/** The wording of findings and hazards: facts in, a sentence that a tired person understands out. */
import { findingText, sourceText } from "./check/words";
import { setOf } from "@/core/frames/frame-set";
import { USUAL_MANNER } from "@/contract/run-manner";
import { FilesByFrame } from "./live/files-by-frame";
import { hazardText, mendText } from "./shot/plan-words";
import { laneFigures, nodeLetter } from "./band/lanes";
import { runOnShow } from "./shot/run-on-show";
import { againstEstimate, barText, pointText, runEndText } from "./run/words";
import type { FileColumns, FindingView } from "@/contract/sequence-view";

const finding = (code: string, text: string, source: FindingView["source"] = "check"): FindingView => ({
  id: 1,
  frame: 57,
  source,
  who: null,
  closedWho: null,
  why: null,
  place: null,
  code,
  text,
  state: "open",
  createdAt: 0,
  closedAt: null,
});

test.each([
  [finding("empty", "the file is empty"), "The file is empty."],
  [
    finding("truncated", "cut short after 4100 bytes; 41 % of the picture is there"),
    "The file is cut short after 4100 bytes; 41 % of the picture is there.",
  ],
  [
    finding("corrupt", "the checksum of chunk IDAT at byte 41 is wrong"),
    "The checksum of chunk IDAT at byte 41 is wrong.",
  ],
  [finding("by-hand", "wrong buoy", "person"), "wrong buoy"],
])("%p", (found, text) => expect(findingText(found)).toBe(text));

test("a finding says who found it", () =>
  expect((["check", "node", "person"] as const).map((s) => sourceText(finding("x", "x", s)))).toEqual([
    "found by a check",
    "told by its node",
    "flagged by hand",
  ]));

test("a hazard says what happens if nothing is done; those that can be mended say how", () => {
  const digits = { code: "too-few-digits", digits: 3, needed: 4, mend: { digits: 4, pattern: "" } } as const;
  expect([hazardText(digits), mendText(digits)]).toEqual([
    "3 digits are too few: from the first number with 4 digits on, alphabetical order is no longer frame order.",
    "Use 4 digits",
  ]);
  expect(mendText({ code: "name-too-long", length: 300, limit: 200 })).toBeNull();
});

const columns: FileColumns = {
  frames: [1, 3, 1, 7, 7, 1],
  seconds: [1, 2, null, 12],
  luminance: [0.25, 0.5, 0.5, 0.5],
  noise: [0.002, 0.01, null, 0.004],
  node: [0, 1, -1, 1],
  nodes: ["mole-1", "quay-1"],
  content: ["a", "b", "", "d"],
  samples: [16, 64, null, 64],
  bytes: [1000, 500, 500, 2000],
};

describe("files by frame", () => {
  const files = new FilesByFrame(columns);
  test("each column is found at its frame", () => {
    expect(files.at(2)).toEqual({ seconds: 2, node: "quay-1", content: "b", samples: 64 });
    expect(files.at(3)).toEqual({ seconds: null, node: null, content: "", samples: null });
    expect(files.at(7)).toMatchObject({ seconds: 12 });
    expect(files.at(4)).toBeNull();
  });
  test("the bytes of all", () => expect(files.bytes).toBe(4000));
  test("lanes say their figures with units, and who is which letter", () => {
    const source = { files, markers: {}, used: null, sound: null };
    expect([
      laneFigures("seconds", source),
      laneFigures("brightness", source),
      laneFigures("grain", source),
      laneFigures("file size", source),
      laneFigures("odd", { ...source, odd: setOf([2, 3]) }),
      laneFigures("samples", source),
      laneFigures("made by", source),
    ]).toEqual([
      "1.0 s to 12 s",
      "0.25 to 0.50",
      "0.20 % to 1.00 %",
      "500 B to 2 kB",
      "2-3",
      "16 to 64",
      "a mole-1, b quay-1",
    ]);
    expect(
      laneFigures("seconds", {
        files: new FilesByFrame({ ...columns, seconds: [null, null, null, null] }),
        markers: {},
        used: null,
        sound: null,
      }),
    ).toBe("no figures yet");
    expect([nodeLetter(25), nodeLetter(26)]).toEqual(["z", "?"]);
  });
});

describe("the run on show", () => {
  const run = (id: number, state: "active" | "stopping" | "stopped" | "done") => ({
    id,
    state,
    policy: "fill" as const,
    wanted: "all",
    total: 9,
    done: 1,
    failed: 0,
    left: 8,
    held: null,
    ...USUAL_MANNER,
    awaits: null,
    limit: null,
    dispatch: null,
    versions: ["v001"],
    revisions: [{ version: "v001", follows: 1, newest: 1 }],
    isHandedOut: false,
    lighting: null,
    secondsAFrame: null,
    framesAMinute: null,
    likelyFinish: null,
    lateFinish: null,
    deeds: [],
    createdAt: 0,
    endedAt: null,
  });
  test.each([
    ["one that goes on, though a newer one is done", [run(3, "done"), run(2, "active")], 2],
    ["the newest that was stopped", [run(3, "stopped"), run(2, "done")], 3],
    ["none, once a newer run is done", [run(3, "done"), run(2, "stopped")], null],
    ["none without runs", [], null],
  ])("%s", (_name, runs, id) => expect(runOnShow(runs)?.id ?? null).toBe(id));
});

describe("the end of a run", () => {
  test("its time against the estimate", () =>
    expect([againstEstimate(100, 95), againstEstimate(150, 100), againstEstimate(30, 60)]).toEqual([
      "; estimated 1 min 35 s, as it was",
      "; estimated 1 min 40 s, 50 % more",
      "; estimated 1 min 0 s, 50 % less",
    ]));
  test("as a notification says it", () =>
    expect([
      runEndText({ state: "done", done: 96, failed: 0, left: 0 }),
      runEndText({ state: "stopped", done: 1, failed: 2, left: 3 }),
    ]).toEqual(["Done: 96 frames made", "Stopped: 1 frame made, 3 left, 2 set aside"]));
});

describe("what a preflight says", () => {
  test.each<[Parameters<typeof pointText>[0], string]>([
    [
      { code: "node-lacks-files", node: "quay-1", files: ["the scene", "mast.png"] },
      "quay-1 does not see the scene, mast.png: its frames would be wrong.",
    ],
    [
      { code: "space-short", need: 5e9, free: 1e9 },
      "The frames need about 5.0 GB, and 1.0 GB are free: the disk would be full on the way.",
    ],
    [
      { code: "frames", pictures: 4, render: 4, keep: 12, replaceGood: 0, policy: "fill" },
      "4 frames to render; 12 kept",
    ],
    [
      { code: "frames", pictures: 4, render: 4, keep: 0, replaceGood: 3, policy: "all" },
      "3 frames that are good would be rendered again; the old files are kept aside.",
    ],
    [
      { code: "lighting", make: 3, unfit: 1, there: 2 },
      "the light is gathered first, at 3 frames, 1 of them anew because it was made from another scene or plan; at 2 it is there",
    ],
    [{ code: "lighting", make: 0, unfit: 0, there: 5 }, "the gathered light is there"],
    [
      {
        code: "versions",
        versions: [
          { version: "v001", frames: "1-9", count: 9 },
          { version: "v002", frames: "4", count: 1 },
        ],
      },
      "v001: 9 frames, v002: 1 frame",
    ],
    [
      { code: "nodes-ready", nodes: ["quay-1"], files: 3 },
      "quay-1 can write and sees 3 files with the same bytes",
    ],
    [{ code: "leftovers", files: ["a.part7"] }, "1 temporary file is left of attempts that did not end."],
  ])("%j", (point, text) => expect(pointText(point)).toBe(text));

  test.each<[Parameters<typeof barText>[0], string]>([
    [
      { code: "look-changed", changes: [{ setting: "seed", before: 1, after: 9 }] },
      "seed was 1 and is 9 now",
    ],
    [
      {
        code: "look-changed",
        changes: [
          {
            setting: "size",
            before: { width: 480, height: 270, aspect: 1 },
            after: { width: 960, height: 540, aspect: 1 },
          },
        ],
      },
      "size was 480 x 270 and is 960 x 540 now",
    ],
    [
      {
        code: "look-changed",
        changes: [
          { setting: "filter", before: { kind: "box", radius: 0.5 }, after: { kind: "tent", radius: 2 } },
        ],
      },
      "pixel filter was box 0.5 and is tent 2 now",
    ],
    [
      { code: "look-changed", changes: [{ setting: "scene", before: "5f3a", after: "90cc" }] },
      "the scene file is another one",
    ],
    [
      { code: "tiles-are-final", changes: [{ setting: "noiseTarget", before: null, after: 0.02 }] },
      "noise target was none and is 0.02 now; sampled tile by tile, nothing may change",
    ],
    [{ code: "sums-not-kept" }, "a pass or alpha was added that needs what was not kept"],
  ])("what keeps saved samples from being used: %j", (bar, text) => expect(barText(bar)).toBe(text));
});
