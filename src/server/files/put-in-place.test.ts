import fs from "node:fs/promises";
import os from "node:os";
import path from "node:path";
import { byReplacement } from "./layout";
import {
  asideLeftover,
  forgetAside,
  keepAside,
  placeReplacing,
  prepareAside,
  putInFreePlace,
  putInPlace,
} from "./put-in-place";

let folder: string;
let final: string;
let aside: string;
beforeEach(async () => {
  folder = await fs.mkdtemp(path.join(os.tmpdir(), "plain-tally-place-"));
  final = path.join(folder, "shot.0001.png");
  aside = path.join(folder, "aside");
});
afterEach(() => fs.rm(folder, { recursive: true, force: true }));

const write = async (text: string): Promise<string> => {
  const temporary = `${final}.part7`;
  await fs.writeFile(temporary, text);
  return temporary;
};
const replace = async (text: string, attempt: number): Promise<void> => {
  const temporary = await write(text);
  const kept = await prepareAside(final, aside, attempt);
  keepAside(kept, final);
  putInPlace(temporary, final);
  await forgetAside(kept);
};
const asides = async (): Promise<string[][]> =>
  Promise.all(
    (await fs.readdir(aside).catch(() => []))
      .sort(byReplacement)
      .map(async (name) => [name, await fs.readFile(path.join(aside, name), "utf8")]),
  );

test("what is replaced is kept, under the attempt that replaced it; nothing is kept of nothing", async () => {
  await replace("first", 3);
  expect(await asides()).toEqual([]);
  await replace("second", 12);
  expect(await fs.readFile(final, "utf8")).toBe("second");
  expect(await asides()).toEqual([["shot.0001.before-000012.png", "first"]]);
});

test("an aside never replaces an older one, also where attempts are counted from the beginning again", async () => {
  for (const text of ["a", "b", "c", "d"]) await replace(text, 5);
  expect(await asides()).toEqual([
    ["shot.0001.before-000005.png", "a"],
    ["shot.0001.before-000005-2.png", "b"],
    ["shot.0001.before-000005-3.png", "c"],
  ]);
});

test("a file that came between the copy and the lock is the one that is kept", async () => {
  await fs.writeFile(final, "looked at");
  const kept = await prepareAside(final, aside, 5);
  await fs.writeFile(`${final}.new`, "somebody else's");
  await fs.rename(`${final}.new`, final);
  keepAside(kept, final);
  await forgetAside(kept);
  expect(await asides()).toEqual([["shot.0001.before-000005.png", "somebody else's"]]);
});

test("what was prepared and not needed leaves nothing; what a killed process leaves has a name that can be told", async () => {
  await fs.writeFile(final, "there");
  const kept = await prepareAside(final, aside, 5);
  expect(await fs.readdir(aside)).toEqual([path.basename(asideLeftover(final, aside, 5))]);
  await forgetAside(kept);
  expect(await fs.readdir(aside)).toEqual([]);
});

test("a place that is taken is left as it is", async () => {
  expect(putInFreePlace(await write("proof"), final)).toBe(true);
  const second = await write("another");
  expect(putInFreePlace(second, final)).toBe(false);
  expect([await fs.readFile(final, "utf8"), await fs.readFile(second, "utf8")]).toEqual(["proof", "another"]);
});

test("a machine that is not connected keeps what it replaces as well", async () => {
  await placeReplacing(await write("first"), final, aside);
  await placeReplacing(await write("second"), final, aside);
  await placeReplacing(await write("third"), final, aside);
  expect((await asides()).map(([, text]) => text)).toEqual(["first", "second"]);
});
