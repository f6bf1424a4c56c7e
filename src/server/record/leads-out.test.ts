import { RECORD_TABLES } from "../db/record-tables";
import { leadsOut as leadsOutOf } from "./leads-out";

const leadsOut = (name: string, row: Record<string, unknown>): boolean =>
  leadsOutOf(
    RECORD_TABLES.find((table) => table.name === name)!,
    row,
  );

const SOURCE = { root: "farm", folder: "HL050/beauty", prefix: "quay.", suffix: ".png", digits: 4 };

test("rows as this house writes them stay", () => {
  expect(leadsOut("version", { named_shot: "HL010", named_project: "harbour-lights" })).toBe(false);
  expect(leadsOut("sequence", { camera: "Cam 1.left", pass: "beauty", source: null })).toBe(false);
  expect(leadsOut("sequence", { camera: "main", pass: "depth", source: JSON.stringify(SOURCE) })).toBe(false);
  expect(leadsOut("sequence", { source: SOURCE })).toBe(false);
  expect(leadsOut("run", { handout: ".tally/hand-outs/000001" })).toBe(false);
  expect(leadsOut("deed", { who: "../Ines" })).toBe(false);
});

test.each([
  ["version", { named_shot: "../../etc" }],
  ["shot", { code: ".." }],
  ["sequence", { camera: "a/../../b" }],
  ["sequence", { source: JSON.stringify({ ...SOURCE, folder: "../../etc" }) }],
  ["sequence", { source: JSON.stringify({ ...SOURCE, prefix: "../" }) }],
  ["sequence", { source: { ...SOURCE, suffix: "/../x.png" } }],
  ["sequence", { source: "{" }],
  ["sequence", { source: 7 }],
  ["frame_file", { name: "../../../secret.png" }],
  ["frame_file", { name: 7 }],
  ["proof_file", { path: "/etc/passwd" }],
  ["proof_file", { path: "a\\..\\..\\b" }],
  ["run", { handout: ".tally/../../.." }],
  ["run_version", { scene_folder: "a\0b" }],
  ["node", { name: "quay/../1" }],
])("a %s that leads out of its folder is told: %j", (table, row) => {
  expect(leadsOut(table, row)).toBe(true);
});
