/** What this node sees of the house: its roots, whether it may write there, and which renderers it has. */
import fs from "node:fs/promises";
import path from "node:path";
import type { HouseAnswer, HouseQuestion, RootSeen } from "@/contract/node-request";
import { declaredRoots } from "../configuration";
import { freeBytes } from "../files/free-space";
import { rendererFault } from "./renderer-proof";

/** Writes, flushes and removes a file; the system's code where it cannot. */
export async function tryWriting(file: string, text: string): Promise<string | null> {
  try {
    const handle = await fs.open(file, "w");
    try {
      await handle.writeFile(text);
      await handle.sync();
    } finally {
      await handle.close();
      await fs.rm(file, { force: true });
    }
    return null;
  } catch (error) {
    return (error as NodeJS.ErrnoException).code ?? (error as Error).message;
  }
}

async function lookAtRoot({ name, sign }: HouseQuestion["roots"][number], node: string): Promise<RootSeen> {
  const place = declaredRoots()[name];
  if (place === undefined)
    return {
      name,
      path: null,
      isSame: false,
      cannotWrite: "no such root is declared there",
      freeBytes: null,
    };
  const isSame =
    sign !== null &&
    (await fs.access(path.join(place, sign)).then(
      () => true,
      () => false,
    ));
  return {
    name,
    path: place,
    isSame,
    // Never where the folder is another one: below the place of a share that is gone lies this machine's own disk.
    cannotWrite: isSame ? await tryWriting(path.join(place, `.plain-tally-${node}.part0`), node) : null,
    freeBytes: await freeBytes(place),
  };
}

/** Looks itself, with its own rights. */
export async function seeHouse({ roots, renderers }: HouseQuestion, node: string): Promise<HouseAnswer> {
  return {
    roots: await Promise.all(roots.map((root) => lookAtRoot(root, node))),
    renderers: await Promise.all(
      renderers.map(async (asked) => ({ name: asked.name, fault: await rendererFault(asked) })),
    ),
  };
}
