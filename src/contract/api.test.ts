import { checkClearFlag, checkFlag, checkOpenVersion, checkSavePlan, checkStartRun, checkStopRun } from "./api";
import { checkConfiguration } from "./configuration";
import { faultText } from "./validate";

const plan = { scene: "scenes/a.json", camera: "main", frames: "1-10", width: 240, height: 135, samples: 6, seed: 1, namePattern: "{shot}.{frame}", digits: 4, format: "png8" };

test.each<[string, { ok: boolean }]>([
  ["a plan to save", checkSavePlan({ versionId: 1, basedOn: 2, plan })],
  ["a plan for a new version", checkOpenVersion({ plan })],
  ["a run for every node", checkStartRun({ phrase: "all", policy: "fill", nodes: null })],
  ["a run for two nodes", checkStartRun({ phrase: "1-9", policy: "mend", nodes: ["quay-1", "mole-1"] })],
  ["a stop", checkStopRun({ how: "after-frames" })],
  ["a flag", checkFlag({ phrase: "57", reason: "a gull" })],
  ["a flag taken back", checkClearFlag({ phrase: "57" })],
])("%s is let in", (_name, checked) => expect(checked.ok).toBe(true));

test.each<[string, { ok: boolean; faults?: readonly { path: string; message: string }[] }, string]>([
  ["a key nobody knows", checkStopRun({ how: "now", hurry: true }), 'the key "hurry" is not known'],
  ["a way to stop that there is not", checkStopRun({ how: "later" }), "/how: must be one of after-frames, now"],
  ["a blank reason", checkFlag({ phrase: "57", reason: "   " }), "/reason"],
  ["a run for no node", checkStartRun({ phrase: "1", policy: "fill", nodes: [] }), "/nodes"],
  ["a width that is no number", checkSavePlan({ versionId: 1, basedOn: 1, plan: { ...plan, width: "240" } }), "/plan/width: must be number"],
  ["a width that was blank in its field", checkSavePlan({ versionId: 1, basedOn: 1, plan: { ...plan, width: null } }), "/plan/width: must be number"],
  ["another format", checkOpenVersion({ plan: { ...plan, format: "gif" } }), "/plan/format: must be one of png8"],
  ["no body at all", checkClearFlag(null), "must be object"],
])("%s is refused with its place", (_name, checked, text) => {
  expect(checked.ok).toBe(false);
  expect(faultText(checked.faults ?? [])).toContain(text);
});

test.each([
  ["nothing", {}, true],
  ["a database and two roots", { databaseUrl: "mariadb://tally:x@db/tally", roots: { frames: "/mnt/frames", archive: "/mnt/old" } }, true],
  ["another kind of database", { databaseUrl: "https://example.com" }, false],
  ["a root without a folder", { roots: { frames: "" } }, false],
  ["a key nobody knows", { database: "x" }, false],
])("a configuration with %s: %p", (_name, value, ok) => expect(checkConfiguration(value).ok).toBe(ok));
