import {
  asideName,
  checkpointFile,
  frameOfCheckpoint,
  isAsideName,
  nameBeforeAside,
  versionFolder,
} from "./layout";

test("final and rough versions have folders of their own", () => {
  expect(versionFolder({ namedShot: "HL010", version: 2, purpose: "final" })).toBe("HL010/v002");
  expect(versionFolder({ namedShot: "HL010", version: 2, purpose: "rough" })).toBe("HL010/rough002");
});

test.each(["a.0001.png", "two.words.0001.exr", "-5.tif"])("%s kept aside says what it was called", (name) => {
  const aside = asideName(name, 123);
  expect(aside).toContain(".before-000123.");
  expect([isAsideName(name), isAsideName(aside), nameBeforeAside(aside)]).toEqual([false, true, name]);
});

test.each([0, 1, -5, 1_234_567])("the checkpoint of frame %p says whose it is", (frame) => {
  expect(frameOfCheckpoint(checkpointFile("", frame))).toBe(frame);
});

test.each(["000001.before.checkpoint", "000001.checkpoint.part7-1", "notes.txt"])(
  "%s is no checkpoint in its place",
  (name) => expect(frameOfCheckpoint(name)).toBeNull(),
);
