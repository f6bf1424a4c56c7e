/**
 * A large project for trying: one very long shot, or very many short ones. Its scene is one of the demo's,
 * small and with one sample.
 */
import fs from "node:fs/promises";
import path from "node:path";
import { PLAN_DEFAULTS } from "@/core/plan/plan";
import { home } from "@/server/configuration";
import { pool } from "@/server/db/pool";
import { projectFolder } from "@/server/files/paths";
import { createProject } from "@/server/actions/projects";
import { makeShot } from "@/server/actions/shots";
import { findShot } from "@/server/store/find-shot";
import { projectBySlug } from "@/server/store/projects";
import { PROJECT } from "./project";

const LARGE = { ...PROJECT, slug: "open-sea", title: "Open Sea", folder: "open-sea" };
/** Frames of a shot where there are many. */
const SHORT = 48;

export interface LargeWish {
  readonly frames: number | null;
  readonly shots: number | null;
}

/** What is there already stays. @returns the shots that were made now */
export async function makeLarge({ frames, shots }: LargeWish): Promise<readonly string[]> {
  if ((await projectBySlug(pool(), LARGE.slug)) === null) await createProject(LARGE);
  await fs.cp(path.join(home(), "src/demo/scenes"), path.join(projectFolder(LARGE), "scenes"), {
    recursive: true,
  });
  const wanted: [code: string, last: number][] = [];
  if (frames !== null) wanted.push([`LONG${frames}`, frames]);
  for (let n = 1; n <= (shots ?? 0); n++) wanted.push([`OS${String(n * 10).padStart(5, "0")}`, SHORT]);
  const made: string[] = [];
  for (const [code, last] of wanted) {
    const name = `${LARGE.slug}/${code}`;
    if ((await findShot(name)) !== null) continue;
    const facts = {
      code,
      title: `${last.toLocaleString("en")} frames of sea`,
      firstFrame: 1,
      lastFrame: last,
      markers: [],
    };
    await makeShot(LARGE.slug, facts, {
      ...PLAN_DEFAULTS,
      scene: "scenes/hl020.json",
      cameras: ["main"],
      frames: `1-${last}`,
      timeLine: { first: 1, last, rate: LARGE.rate },
      rate: LARGE.rate,
      width: 96,
      height: 54,
      samples: 1,
      namePattern: "{shot}_{pass}.{frame}",
      digits: String(last).length + 1,
    });
    made.push(name);
  }
  return made;
}
