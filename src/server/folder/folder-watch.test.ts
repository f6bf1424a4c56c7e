/** The queue of looks, with folders that change and looks that take their time. */
import fs from "node:fs/promises";
import os from "node:os";
import path from "node:path";
import { setTimeout as pause } from "node:timers/promises";
import { watchFolders } from "./folder-watch";

let home: string;
const looks: string[] = [];
let sweeps = 0;
/** Looks at this one wait until they are let go. */
let letGo: (() => void) | null = null;
const busy = (): string => path.join(home, "busy");
const quiet = (): string => path.join(home, "quiet");

jest.mock("../db/pool", () => ({ pool: () => null }));
jest.mock("./small-pictures", () => ({ keepSmallPictures: () => Promise.resolve(0) }));
jest.mock("./project-sight", () => ({ requireSight: () => Promise.resolve() }));
jest.mock("../files/layout", () => ({ sequencePlace: (sequence: { place: string }) => sequence.place }));
jest.mock("../store/shots", () => ({
  listSequences: () => {
    sweeps++;
    return Promise.resolve([busy(), quiet()].map((place) => ({ place, project: "film" })));
  },
}));
jest.mock("./check", () => ({
  catchUp: async ({ place }: { place: string }) => {
    looks.push(path.basename(place));
    if (place === busy()) await new Promise<void>((resolve) => (letGo = resolve));
    return { restsInMs: 0 };
  },
}));

async function until(isTrue: () => boolean): Promise<void> {
  while (!isTrue()) await pause(20);
}
const count = (name: string): number => looks.filter((look) => look === name).length;

test("a folder that never comes to rest waits in the queue once, and holds up none of the others", async () => {
  home = await fs.mkdtemp(path.join(os.tmpdir(), "plain-tally-watch-"));
  for (const folder of [busy(), quiet()]) await fs.mkdir(folder);
  // Far beyond the test: what is looked at was told by the system.
  const close = watchFolders(3_600_000);
  try {
    await until(() => letGo !== null);
    // While it is looked at it changes again and again, and so does the other one.
    for (let i = 0; i < 200; i++) await fs.writeFile(path.join(busy(), `f.${i}.png`), "x");
    await fs.writeFile(path.join(quiet(), "f.1.png"), "x");
    expect(count("busy")).toBe(1);
    const first = letGo!;
    letGo = null;
    first();
    await until(() => count("quiet") >= 1);
    await until(() => letGo !== null);
    // One look for all of its changes.
    expect(count("busy")).toBe(2);
    (letGo as unknown as () => void)();
  } finally {
    await close();
    await fs.rm(home, { recursive: true, force: true });
  }
  expect(count("busy")).toBe(2);
});

test("a folder that is new is looked at while those that took long still rest", async () => {
  looks.length = 0;
  letGo = null;
  home = await fs.mkdtemp(path.join(os.tmpdir(), "plain-tally-watch-"));
  await fs.mkdir(busy());
  const close = watchFolders(1_000);
  try {
    await until(() => letGo !== null);
    // So long that looks rest for some seconds after it.
    await pause(250);
    letGo!();
    const before = sweeps;
    await until(() => sweeps > before);
    await fs.mkdir(quiet());
    await until(() => looks.length >= 2);
    expect(looks).toEqual(["busy", "quiet"]);
  } finally {
    letGo!();
    await close();
    await fs.rm(home, { recursive: true, force: true });
  }
});
