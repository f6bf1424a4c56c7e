import fs from "node:fs";
import os from "node:os";
import path from "node:path";
import { declaredRoots } from "./configuration";
import { addRoot, overlappingRoot, removeRoot } from "./roots";

let home: string;
beforeEach(() => {
  home = fs.realpathSync(fs.mkdtempSync(path.join(os.tmpdir(), "plain-tally-roots-")));
  delete process.env.PLAIN_TALLY_ROOTS;
  process.env.PLAIN_TALLY_HOME = home;
  fs.mkdirSync(path.join(home, "films"));
});
afterEach(() => fs.rmSync(home, { recursive: true, force: true }));
const file = (): string => path.join(home, "plain-tally.config.json");

test("the first root that is declared leaves the usual one where it was", () => {
  addRoot("films", path.join(home, "films"));
  expect(declaredRoots()).toEqual({
    frames: path.join(home, "var/frames"),
    films: path.join(home, "films"),
  });
});

test("what else the file says stays, and the same root again changes nothing", () => {
  fs.writeFileSync(file(), JSON.stringify({ keep: { logDays: 3 }, roots: {} }));
  addRoot("films", path.join(home, "films"));
  const written = fs.readFileSync(file(), "utf8");
  expect(JSON.parse(written)).toEqual({ keep: { logDays: 3 }, roots: { films: path.join(home, "films") } });
  addRoot("films", path.join(home, "films"));
  expect(fs.readFileSync(file(), "utf8")).toBe(written);
});

test.each([
  ["a name with a blank", "my films", "films", "name"],
  ["a folder that is not there", "films", "nowhere", "folder"],
  ["a file", "films", "a-file", "folder"],
  ["a name that means another folder", "frames", "films", "name"],
])("%s is refused at its field, and nothing is written", (_what, name, folder, field) => {
  fs.writeFileSync(path.join(home, "a-file"), "");
  expect(() => addRoot(name, path.join(home, folder))).toThrow(
    expect.objectContaining({ code: "root-wrong", faults: [expect.objectContaining({ field })] }),
  );
  expect(fs.existsSync(file())).toBe(false);
});

test("while the environment names the roots, a file would change nothing: it says so", () => {
  process.env.PLAIN_TALLY_ROOTS = `frames=${home}`;
  expect(() => addRoot("films", path.join(home, "films"))).toThrow("PLAIN_TALLY_ROOTS");
});

test("a root in another one, or around it, is told", () => {
  fs.mkdirSync(path.join(home, "films/farm"));
  addRoot("films", path.join(home, "films"));
  addRoot("farm", path.join(home, "films/farm"));
  expect(overlappingRoot("farm", path.join(home, "films/farm"))).toEqual({ name: "films", isOuter: true });
  expect(overlappingRoot("films", path.join(home, "films"))).toEqual({ name: "farm", isOuter: false });
  expect(overlappingRoot("frames", path.join(home, "var/frames"))).toBeNull();
});

test("a root with projects on it stays declared", () => {
  addRoot("films", path.join(home, "films"));
  expect(() => removeRoot("films", ["harbour-lights"])).toThrow("holds harbour-lights");
  removeRoot("films", []);
  expect(Object.keys(declaredRoots())).toEqual(["frames"]);
  expect(fs.existsSync(path.join(home, "films"))).toBe(true);
});
