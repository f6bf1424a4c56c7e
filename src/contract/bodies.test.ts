import { PLAN_DEFAULTS } from "@/core/plan/plan";
import { SHIPPED_PRESETS } from "@/core/plan/preset";
import {
  checkChangeRun,
  checkClearFlag,
  checkFlag,
  checkImportEdit,
  checkOpenVersion,
  checkSavePlan,
  checkSavePreset,
  checkStartProofs,
  checkStartRun,
  checkStopRun,
} from "./bodies";
import { USUAL_MANNER } from "./run-manner";
import { checkConfiguration } from "./configuration";
import { checkPresetFile, checkThumbnailMove, PRESET_FORMAT } from "./plan";
import { faultText } from "./validate";

const rate = { numerator: 24, denominator: 1 };
const plan = {
  ...PLAN_DEFAULTS,
  scene: "scenes/a.json",
  cameras: ["main"],
  frames: "1-10",
  timeLine: { first: 1, last: 24, rate },
  rate,
};
const turn = {
  kind: "turn",
  subject: [0, 1, 0],
  distance: 4,
  height: 1,
  direction: "clockwise",
  startAngle: 0,
  degrees: 360,
  isLoop: true,
  ease: "even",
};
const preset = { format: PRESET_FORMAT, name: "ours", settings: SHIPPED_PRESETS[0]!.settings };

test.each<[string, { ok: boolean }]>([
  ["a plan to save", checkSavePlan({ versionId: 1, basedOn: 2, plan })],
  [
    "a plan with a lens of its own and a camera move",
    checkSavePlan({
      versionId: 1,
      basedOn: 2,
      plan: {
        ...plan,
        lens: { fNumber: 2.8, focusDistance: { keys: [{ frame: 1, value: 3 }] } },
        move: turn,
      },
    }),
  ],
  ["a plan for a new version", checkOpenVersion({ plan, purpose: "rough", fromRevisionId: 3 })],
  ["a run for every node", checkStartRun({ phrase: "all", policy: "fill", nodes: null, scope: "version" })],
  [
    "a run for two nodes",
    checkStartRun({
      phrase: "1-9",
      policy: "mend",
      scope: "sequence",
      ...USUAL_MANNER,
      nodes: ["quay-1", "mole-1"],
      order: "coarse-to-fine",
      startAt: 1_795_600_000_000,
    }),
  ],
  ["a change of one thing", checkChangeRun({ priority: 1 })],
  ["proofs", checkStartProofs({ phrase: "first,middle,last", plan, nodes: null, strip: null })],
  ["a test strip", checkStartProofs({ phrase: "middle", plan, nodes: null, strip: [16, 64, 256] })],
  ["an edit", checkImportEdit({ name: "cut.edl", text: "TITLE: x" })],
  ["a preset", checkSavePreset({ name: "ours", settings: preset.settings })],
  ["a preset from a file", checkPresetFile(preset)],
  ["a moment of a move", checkThumbnailMove({ move: turn, index: 3, frames: 24 })],
  ["a stop", checkStopRun({ how: "after-frames" })],
  ["a flag", checkFlag({ phrase: "57", reason: "a gull" })],
  ["a flag taken back", checkClearFlag({ phrase: "57" })],
])("%s is let in", (_name, checked) => expect(checked.ok).toBe(true));

test.each<[string, { ok: boolean; faults?: readonly { path: string; message: string }[] }, string]>([
  ["a key nobody knows", checkStopRun({ how: "now", hurry: true }), 'the key "hurry" is not known'],
  [
    "a way to stop that there is not",
    checkStopRun({ how: "later" }),
    "/how: must be one of after-frames, now",
  ],
  ["a blank reason", checkFlag({ phrase: "57", reason: "   " }), "/reason"],
  [
    "a run for no node",
    checkStartRun({ phrase: "1", policy: "fill", scope: "version", ...USUAL_MANNER, nodes: [] }),
    "/nodes",
  ],
  ["an order that there is not", checkChangeRun({ order: "sideways" }), "/order"],
  ["a change of nothing", checkChangeRun({}), ": must NOT have fewer than 1 properties"],
  [
    "a width that is no number",
    checkSavePlan({ versionId: 1, basedOn: 1, plan: { ...plan, width: "240" } }),
    "/plan/width: must be a number",
  ],
  [
    "a width that was blank in its field",
    checkSavePlan({ versionId: 1, basedOn: 1, plan: { ...plan, width: null } }),
    "/plan/width: must be a number",
  ],
  [
    "another format",
    checkOpenVersion({ plan: { ...plan, file: { kind: "gif" } }, purpose: "final", fromRevisionId: null }),
    "/plan/file",
  ],
  ["a strip without samples", checkStartProofs({ phrase: "1", plan, nodes: null, strip: [0] }), "/strip/0"],
  [
    "a preset of another program",
    checkPresetFile({ ...preset, format: "other/9" }),
    '/format: must be "plain-tally-preset/1"',
  ],
  [
    "a preset that says something of the shot",
    checkPresetFile({ ...preset, settings: { frames: "1-10" } }),
    'the key "frames" is not known',
  ],
  [
    "a preset with a wrong value",
    checkPresetFile({ ...preset, settings: { samples: "many" } }),
    "/settings/samples: must be a number",
  ],
  ["a preset that sets nothing", checkPresetFile({ ...preset, settings: {} }), "/settings"],
  ["no body at all", checkClearFlag(null), "must be an object"],
])("%s is refused with its place", (_name, checked, text) => {
  expect(checked.ok).toBe(false);
  expect(faultText(checked.faults ?? [])).toContain(text);
});

test.each([
  ["nothing", {}, true],
  [
    "a database and two roots",
    { databaseUrl: "mariadb://tally:x@db/tally", roots: { frames: "/mnt/frames", archive: "/mnt/old" } },
    true,
  ],
  ["another kind of database", { databaseUrl: "https://example.com" }, false],
  ["a root without a folder", { roots: { frames: "" } }, false],
  ["a key nobody knows", { database: "x" }, false],
])("a configuration with %s: %p", (_name, value, ok) => expect(checkConfiguration(value).ok).toBe(ok));
