/**
 * A house at a given size, for trying and measuring: shots with the tally of their frames, runs that wait, nodes. Frames are rows
 * alone: the folder of the project is out of sight, so that no watch looks for two million files.
 */
import fs from "node:fs/promises";
import path from "node:path";
import { PLAN_DEFAULTS } from "@/core/plan/plan";
import { createProject } from "@/server/actions/projects";
import { makeShot } from "@/server/actions/shots";
import { home } from "@/server/configuration";
import { pool, transact } from "@/server/db/pool";
import { rows, write } from "@/server/db/rows";
import { projectMark } from "@/server/files/layout";
import { projectFolder } from "@/server/files/paths";
import { saveNode } from "@/server/store/nodes";
import { projectBySlug } from "@/server/store/projects";
import { insertRun } from "@/server/store/runs";
import { latestRevision } from "@/server/store/shots";
import { insertTasks } from "@/server/store/tasks";
import { PROJECT } from "./project";

/** What of a shot is not there yet. */
const LEFT = 100;
/** Who its runs wait for: nobody, so that all stays as it is. */
const NOBODY = "no-such-node";

export interface Scale {
  readonly shots: number;
  /** Of each shot. */
  readonly frames: number;
  readonly nodes: number;
  /** That wait, of the first shots. */
  readonly runs: number;
}
export const SCALES = {
  small: { shots: 4, frames: 120, nodes: 3, runs: 1 },
  large: { shots: 500, frames: 4_000, nodes: 40, runs: 40 },
} as const satisfies Record<string, Scale>;
export type ScaleName = keyof typeof SCALES;

/** A node that showed itself now; whoever wants it awake for longer says so again. */
export async function showNodes(prefix: string, count: number): Promise<void> {
  for (let n = 1; n <= count; n++)
    await transact((tx) =>
      saveNode(tx, {
        name: `${prefix}-${n}`,
        host: `${prefix}-${n}`,
        processors: 16,
        pid: n,
        session: `${prefix}-${n}`,
      }),
    );
}

/** A run for what a shot lacks. */
async function makeRun(
  sequence: { readonly id: number; readonly versionId: number },
  frames: number,
): Promise<void> {
  const revision = (await latestRevision(pool(), sequence.versionId))!;
  await transact(async (tx) => {
    const runId = await insertRun(tx, {
      sequenceId: sequence.id,
      versions: [
        {
          versionId: sequence.versionId,
          revisionId: revision.id,
          sceneFolder: "",
          sources: { scene: "", engine: "", files: {} },
        },
      ],
      ...{ policy: "fill", wanted: `1-${frames}`, nodes: [NOBODY], order: "first-to-last", priority: 0 },
      ...{
        startAt: null,
        stopAt: null,
        batch: null,
        after: null,
        kept: frames - LEFT,
        estimatedSeconds: null,
      },
      ...{ handout: null, kind: "sequence", plan: null },
    });
    const tasks = Array.from({ length: LEFT }, (_, i) => ({
      ...({ kind: "frame", leadId: sequence.id, frame: frames - LEFT + i + 1, passes: ["beauty"] } as const),
    }));
    await insertTasks(tx, runId, tasks, "sequence");
  });
}

/**
 * Makes a project of that size, with its nodes and runs; one that is there already stays as it is.
 * @param prefix of the codes of its shots: two capital letters
 */
export async function makeScale(
  slug: string,
  prefix: string,
  { shots, frames, nodes, runs }: Scale,
): Promise<void> {
  if ((await projectBySlug(pool(), slug)) !== null) return;
  const project = { ...PROJECT, slug, title: slug, folder: slug };
  await createProject(project);
  await fs.cp(path.join(home(), "src/demo/scenes"), path.join(projectFolder(project), "scenes"), {
    recursive: true,
  });
  for (let n = 1; n <= shots; n++) {
    const code = `${prefix}${String(n * 10).padStart(4, "0")}`;
    await makeShot(
      slug,
      { code, title: `the sea, part ${n}`, firstFrame: 1, lastFrame: frames, markers: [] },
      {
        ...PLAN_DEFAULTS,
        scene: "scenes/hl020.json",
        cameras: ["main"],
        frames: `1-${frames}`,
        timeLine: { first: 1, last: frames, rate: PROJECT.rate },
        rate: PROJECT.rate,
        ...{ width: 96, height: 54, samples: 1 },
      },
    );
  }
  const sequences = await rows<{ id: number; code: string; versionId: number }>(
    pool(),
    `SELECT q.id, s.code, q.version_id AS versionId
      FROM sequence q
      JOIN version v ON v.id = q.version_id
      JOIN shot s ON s.id = v.shot_id
      JOIN project p ON p.id = s.project_id
      WHERE p.slug = ?
      ORDER BY q.id`,
    [slug],
  );
  // Shot by shot: two million rows at once are no question that answers in time.
  for (const { id, code } of sequences)
    await write(
      pool(),
      `INSERT INTO frame_file (
          sequence_id, frame, name, bytes, modified_ms, content, verdict, node, seconds
        )
        SELECT ?, n.seq, CONCAT(?, '_v001.', LPAD(n.seq, 4, '0'), '.png'), 9000, 0,
            REPEAT('a', 64), 'good', 'quay-1', 2.5
          FROM seq_1_to_${frames - LEFT} n`,
      [id, code],
    );
  for (const sequence of sequences.slice(0, runs)) await makeRun(sequence, frames);
  await showNodes(slug, nodes);
  await fs.rm(projectMark(projectFolder(project)), { force: true });
}
