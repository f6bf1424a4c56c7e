/** Shots by three doors: a scene, a list, an edit. First it is said what will come of it, then it is done. */
import crypto from "node:crypto";
import fs from "node:fs/promises";
import path from "node:path";
import type { FilePart } from "@/contract/file-part";
import { BLANK_WISH } from "@/core/plan/shot-wish";
import { bringInEdit } from "@/server/actions/bring-in-edit";
import { bringInList, bringInShots } from "@/server/actions/bring-in-shots";
import { changeProject } from "@/server/actions/projects";
import { changeShot } from "@/server/actions/shots";
import { takeFilePart, dropFileParts } from "@/server/actions/take-file";
import { pool } from "@/server/db/pool";
import { fromJson, row } from "@/server/db/rows";
import { readSceneFacts } from "@/server/scenes/scene-facts";
import { requireProject } from "@/server/store/find-shot";
import { shotsOfNewestEdit } from "@/server/store/edits";
import { viewShot } from "@/server/views/shot";
import { viewShots } from "@/server/views/shots";
import { viewProjectFiles } from "@/server/views/projects";
import { TEST_SCENE, writeScene } from "../support/scene";
import { openStage, type Stage } from "../support/stage";

const FILM = "test-film";
let stage: Stage;
beforeAll(async () => {
  stage = await openStage();
});
afterAll(() => stage.strike());

const planOf = async (code: string) =>
  (await viewShot(`${FILM}/${code}`, { version: null, camera: null, pass: null })).plan;
const codes = async (): Promise<string[]> => (await viewShots(FILM)).shots.map((s) => s.code);

describe("a scene", () => {
  test("tells cameras, time line and markers, and a shot of it takes them over", async () => {
    await writeScene(
      stage.projectFolder,
      {
        ...TEST_SCENE,
        timeLine: { first: 1001, last: 1024 },
        markers: [{ name: "dusk", first: 1001, last: 1012 }],
      },
      "told.json",
    );
    const project = await requireProject(FILM);
    expect(await readSceneFacts(project, "scenes/told.json", "stand-in")).toMatchObject({
      timeLine: { first: 1001, last: 1024 },
      markers: [{ name: "dusk", first: 1001, end: 1013 }],
      missing: [],
    });
    const wish = { ...BLANK_WISH, code: "S010", scene: "scenes/told.json" };
    const dry = await bringInShots(FILM, [wish], { isDry: true });
    expect(dry.made).toMatchObject([{ code: "S010", first: 1001, last: 1024, isSceneThere: true }]);
    expect(await codes()).toEqual([]);
    await bringInShots(FILM, [wish], { isDry: false });
    expect((await planOf("S010")).frames).toBe("1001-1024");
    expect((await viewShot(`${FILM}/S010`, { version: null, camera: null, pass: null })).markers).toEqual([
      { name: "dusk", first: 1001, end: 1013 },
    ]);
  });

  test("that does not say how long it is asks for it at its field", async () => {
    const { wrong } = await bringInShots(FILM, [{ ...BLANK_WISH, code: "S020", scene: "scenes/test.json" }], {
      isDry: true,
    });
    expect(wrong).toEqual([{ line: null, field: "timeLine", message: expect.stringContaining("how long") }]);
  });

  test("of another program, or one that is not there, says so", async () => {
    await fs.writeFile(path.join(stage.projectFolder, "scenes/other.json"), '{"kind":"something else"}');
    for (const [scene, text] of [
      ["scenes/other.json", "other.json"],
      ["scenes/nowhere.json", "nowhere.json"],
      ["../../etc/passwd", "root add"],
    ]) {
      const { wrong } = await bringInShots(
        FILM,
        [{ ...BLANK_WISH, code: "S030", scene: scene!, timeLine: { first: 1, last: 2 } }],
        { isDry: false },
      );
      expect(wrong[0]!.message).toContain(text);
    }
    expect(await codes()).toEqual(["S010"]);
  });

  test("is chosen among the project's files, and neither frames nor handovers are among them", async () => {
    await fs.mkdir(path.join(stage.projectFolder, "S010/v001/main/beauty"), { recursive: true });
    await fs.writeFile(path.join(stage.projectFolder, "S010/v001/main/beauty/S010.1001.png"), "x");
    await fs.mkdir(path.join(stage.projectFolder, "handovers"));
    await fs.writeFile(path.join(stage.projectFolder, "handovers/S010_001.json"), "{}");
    const { files } = await viewProjectFiles(FILM);
    expect(files).toContain("scenes/told.json");
    expect(files.filter((file) => /^(S010|handovers)|\.tally/.test(file))).toEqual([]);
  });
});

test("what the project says of new plans is in the plan of a new shot", async () => {
  await changeProject(FILM, { defaults: { width: 640, height: 360, passes: ["beauty", "depth"] } });
  await bringInList(FILM, "code,first,last\nD010,1,24\n", false);
  expect(await planOf("D010")).toMatchObject({ width: 640, height: 360, passes: ["beauty", "depth"] });
  await expect(changeProject(FILM, { defaults: { width: 0 } })).rejects.toMatchObject({
    code: "project-wrong",
    faults: [{ field: "width" }],
  });
  await changeProject(FILM, { defaults: {} });
});

describe("a list", () => {
  const LIST = [
    "code,title,first,last,scene,camera",
    "L010,the quay,1,48,scenes/test.json,main",
    "L020,no such scene,1,48,scenes/gone.json,main",
    "L030,a scene to come,1,12,,",
    "L040,wrong camera,1,12,scenes/test.json,nowhere",
    "l 50,a wrong code,1,12,,",
  ].join("\n");

  test("says line by line what comes of it, and does only that", async () => {
    const dry = await bringInList(FILM, LIST, true);
    expect(dry.made.map((l) => [l.line, l.code, l.isSceneThere])).toEqual([
      [2, "L010", true],
      [4, "L030", false],
    ]);
    expect(dry.wrong.map((w) => w.line)).toEqual([3, 5, 6]);
    expect(await bringInList(FILM, LIST, false)).toEqual(dry);
    expect((await codes()).filter((code) => code.startsWith("L"))).toEqual(["L010", "L030"]);
    expect((await planOf("L030")).scene).toBe("scenes/L030.json");
  });

  test("read again changes nothing; with other frames it changes the shot and its plan", async () => {
    const again = await bringInList(FILM, LIST, false);
    expect([again.made, again.changed, again.unchanged.map((l) => l.code)]).toEqual([
      [],
      [],
      ["L010", "L030"],
    ]);
    const longer = await bringInList(FILM, "code,first,last\nL010,1,60\n", false);
    expect(longer.changed).toMatchObject([{ code: "L010", changes: ["1-48 becomes 1-60"] }]);
    expect((await planOf("L010")).frames).toBe("1-60");
  });
});

test("a shot that is archived is not changed behind one's back", async () => {
  await changeShot(`${FILM}/L030`, { isArchived: true });
  const { wrong } = await bringInList(FILM, "code,first,last\nL030,1,99\n", false);
  expect(wrong).toEqual([{ line: 2, message: expect.stringContaining("L030 (archived)") }]);
  await changeShot(`${FILM}/L030`, { isArchived: false });
});

describe("an edit", () => {
  const event = (n: number, name: string, from: string, to: string): string =>
    `00${n}  AX V C ${from} ${to} 01:00:00:00 01:00:02:00\n* FROM CLIP NAME: ${name}`;
  const edit = (...events: string[]) => `TITLE: CUT\n${events.join("\n")}\n`;
  const read = (text: string, isDry = false) =>
    bringInEdit(FILM, { name: "cut.edl", text, handles: 8, isDry });
  const CUT = edit(
    event(1, "E010_v001", "00:00:10:00", "00:00:12:00"),
    event(2, "E020", "00:00:20:00", "00:00:21:00"),
    event(3, "E010_v001", "00:00:13:00", "00:00:14:00"),
    "004  AX  A  C  00:00:10:00 00:00:12:00 01:00:00:00 01:00:02:00\n* FROM CLIP NAME: gulls.wav",
  );

  test("makes a shot for each name, with range and handles; two clips of one are joined; the order is kept", async () => {
    const made = await read(CUT);
    expect(made.made.map((l) => [l.code, l.first, l.last])).toEqual([
      ["E010", 232, 343],
      ["E020", 472, 511],
    ]);
    expect((await planOf("E010")).frames).toBe("232-343");
    const { id } = await requireProject(FILM);
    expect(await shotsOfNewestEdit(pool(), id)).toEqual(["E010", "E020"]);
    expect(made.sound).toEqual(["gulls.wav"]);
    const kept = await row<{ sound: unknown }>(pool(), "SELECT sound FROM edit WHERE project_id = ?", [id]);
    expect(fromJson(kept!.sound)).toEqual([{ names: ["gulls.wav", "AX"], first: 240, end: 288, starts: 0 }]);
  });

  test("read again changes nothing", async () => {
    const again = await read(CUT);
    expect([again.made, again.changed, again.needed, again.gone]).toEqual([[], [], [], []]);
  });

  test("a later cut says what is newly needed, what is missing, shorter and gone, and makes shots longer only", async () => {
    const later = await read(edit(event(1, "E010", "00:00:11:00", "00:00:15:00")), true);
    expect(later).toMatchObject({
      changed: [{ code: "E010", changes: ["232-343 becomes 232-367"] }],
      gone: ["E020"],
      shorter: ["E010"],
      needed: [{ code: "E010", frames: "288-311,336-359", count: 48, missing: 48 }],
    });
    expect((await planOf("E010")).frames).toBe("232-343");
  });

  test("that cannot be read, or names nothing, changes nothing", async () => {
    await expect(read("no edit at all")).rejects.toMatchObject({ code: "edit-unreadable" });
    const before = await codes();
    expect(await codes()).toEqual(before);
  });
});

describe("a file that is brought from a page", () => {
  const part = (name: string, change: Partial<FilePart> = {}): FilePart => ({
    name,
    upload: crypto.randomUUID(),
    from: 0,
    size: 6,
    replaces: false,
    ...change,
  });
  const there = (name: string) =>
    fs.readFile(path.join(stage.projectFolder, "scenes", name), "utf8").catch(() => null);

  test("comes in parts, and is there once it is whole", async () => {
    const first = part("lamp/scene.json");
    expect(await takeFilePart(FILM, first, Buffer.from("abc"))).toBeNull();
    expect(await there("lamp/scene.json")).toBeNull();
    expect(await takeFilePart(FILM, { ...first, from: 3 }, Buffer.from("def"))).toEqual({
      path: "scenes/lamp/scene.json",
      bytes: 6,
      isReplaced: false,
    });
    expect(await there("lamp/scene.json")).toBe("abcdef");
    expect(await fs.readdir(path.join(stage.projectFolder, "scenes/lamp"))).toEqual(["scene.json"]);
  });

  test("replaces nothing unless it is told to", async () => {
    await expect(takeFilePart(FILM, part("lamp/scene.json"), Buffer.from("ghijkl"))).rejects.toMatchObject({
      code: "file-there",
    });
    expect(await there("lamp/scene.json")).toBe("abcdef");
    const replaced = part("lamp/scene.json", { replaces: true });
    expect(await takeFilePart(FILM, replaced, Buffer.from("ghijkl"))).toMatchObject({ isReplaced: true });
    expect(await there("lamp/scene.json")).toBe("ghijkl");
  });

  test("two that bring one name at one moment: one of them does", async () => {
    const ends = await Promise.allSettled(
      [1, 2, 3].map(() => takeFilePart(FILM, part("race.json"), Buffer.from("abcdef"))),
    );
    expect(ends.filter((end) => end.status === "fulfilled")).toHaveLength(1);
    expect(
      (await fs.readdir(path.join(stage.projectFolder, "scenes"))).filter((n) => n.includes(".part")),
    ).toEqual([]);
  });

  test.each([
    ["leads out", "../out.json"],
    ["begins with a dot", ".tally/project"],
    ["has an empty part", "a//b"],
  ])("a name that %s is refused", (_what, name) =>
    expect(takeFilePart(FILM, part(name), Buffer.from("abcdef"))).rejects.toMatchObject({
      code: "file-name-wrong",
    }),
  );

  test("one of 4 GB is refused before a byte of it is written", async () => {
    await expect(
      takeFilePart(FILM, part("large.bin", { size: 4_000_000_000 }), Buffer.from("abc")),
    ).rejects.toMatchObject({ code: "file-too-large" });
    expect(await there("large.bin")).toBeNull();
  });

  test("a part out of order is refused, and what was given up leaves nothing", async () => {
    const begun = part("given-up.json");
    await takeFilePart(FILM, begun, Buffer.from("abc"));
    await expect(takeFilePart(FILM, { ...begun, from: 4 }, Buffer.from("ef"))).rejects.toMatchObject({
      code: "file-part-wrong",
    });
    await dropFileParts(FILM, begun);
    expect(
      (await fs.readdir(path.join(stage.projectFolder, "scenes"))).filter((n) => n.includes("given-up")),
    ).toEqual([]);
  });
});
