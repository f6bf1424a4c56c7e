import { rangeSet, setOf, union } from "../frames/frame-set";
import { askText, callLines, commaList, lineList, rangeList } from "./ask-elsewhere";

const SET = union(setOf([41, 42, 57]), rangeSet(90, 96, 2));
const VALUES = {
  ...{ folder: "/mnt/films/HL050", project: "harbour-lights", shot: "HL050" },
  ...{ version: "v001", camera: "main", pass: "beauty" },
};
const calls = (text: string, each: "all" | "stretch" | "frame"): string[] =>
  callLines({ name: "farm", text, each }, SET, VALUES).split("\n");

test("the same frames, as each program reads them", () => {
  expect(commaList(SET)).toBe("41,42,57,90,92,94,96");
  expect(lineList(SET)).toBe("41\n42\n57\n90\n92\n94\n96");
  expect(rangeList(SET)).toBe("41-42 57 90 92 94 96");
});

test("a call is made for all frames, for each stretch, or for each frame", () => {
  expect(calls("farm -f {phrase} -o {folder} # {shot} {pass}", "all")).toEqual([
    "farm -f 41-42,57,90-96/2 -o /mnt/films/HL050 # HL050 beauty",
  ]);
  expect(calls("farm {first} {last} {step}", "stretch")).toEqual([
    "farm 41 42 1",
    "farm 57 57 1",
    "farm 90 96 2",
  ]);
  expect(calls("farm {frame}", "frame")).toEqual(
    ["41", "42", "57", "90", "92", "94", "96"].map((f) => `farm ${f}`),
  );
  expect(callLines({ name: "f", text: "x", each: "all" }, setOf([]), VALUES)).toBe("");
  expect(callLines({ name: "f", text: "x", each: "frame" }, rangeSet(1, 20_000), VALUES)).toBe("");
});

test("a text to send names frames, folder and file of each sequence that lacks any", () => {
  const text = askText(VALUES, { width: 1920, height: 1080 }, [
    { camera: "main", pass: "beauty", set: SET, folder: "/f", name: (frame) => `q.${frame}.png` },
    { camera: "main", pass: "depth", set: setOf([]), folder: "/d", name: () => "" },
  ]);
  expect(text).toContain("harbour-lights HL050 v001");
  expect(text).toContain("main beauty: 41-42,57,90-96/2   (7)");
  expect(text).toContain("named as:   q.41.png");
  expect(text).not.toContain("depth");
});
