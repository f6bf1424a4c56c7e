/**
 * Makes the demo project in an empty database: scenes copied under the storage root, shots, plans, and the
 * first runs.
 */
import fs from "node:fs/promises";
import path from "node:path";
import { declaredRoots, home } from "@/server/configuration";
import { pool } from "@/server/db/pool";
import { projectFolder, type ProjectPlace } from "@/server/files/paths";
import { projectBySlug } from "@/server/store/projects";
import { startProofs } from "@/server/actions/proofs";
import { startRun } from "@/server/actions/start-run";
import { PROJECT, SHOTS } from "./project";
import { createProject } from "@/server/actions/projects";
import { makeShot } from "@/server/actions/shots";
import { findShot } from "@/server/store/find-shot";

/** Scenes go beside the frames, where nodes of other machines would see them too. */
export async function copyScenes(place: ProjectPlace = PROJECT): Promise<void> {
  await fs.cp(path.join(home(), "src/demo/scenes"), path.join(projectFolder(place), "scenes"), {
    recursive: true,
  });
}

/** The root that the demo goes to: its own, or the first of those that a person has declared. */
function demoRoot(): string {
  const names = Object.keys(declaredRoots());
  return names.includes(PROJECT.root) ? PROJECT.root : names[0]!;
}

export interface SeedWish {
  /** The runs that begin are for the demo's own nodes, which start with it. */
  readonly hasItsNodes: boolean;
}

/** What is there already is left as it is, so that a start that was interrupted is made whole by the next.
 * @returns true when the project was made now
 */
export async function seed({ hasItsNodes }: SeedWish): Promise<boolean> {
  const known = await projectBySlug(pool(), PROJECT.slug);
  if (known === null) {
    const place = { ...PROJECT, root: demoRoot() };
    await copyScenes(place);
    await createProject(place);
  }
  for (const shot of SHOTS) {
    const name = `${PROJECT.slug}/${shot.code}`;
    if ((await findShot(name)) !== null) continue;
    const facts = {
      code: shot.code,
      title: shot.title,
      firstFrame: shot.first,
      lastFrame: shot.last,
      markers: shot.markers,
    };
    const { sequenceId } = await makeShot(PROJECT.slug, facts, shot.plan);
    for (const run of shot.runs)
      await startRun({
        sequenceId,
        scope: "version",
        phrase: run.phrase,
        policy: "fill",
        nodes: hasItsNodes ? run.nodes : null,
      });
    if (shot.proofs !== undefined)
      await startProofs(sequenceId, { phrase: shot.proofs, plan: shot.plan, nodes: null, strip: null });
  }
  return known === null;
}
