/**
 * A Slurm of our own with two machines, and the queue beside it. All is real: arrays, tasks, signals, nodes, pictures.
 */
import fs from "node:fs/promises";
import os from "node:os";
import path from "node:path";
import sharp from "sharp";
import { startSlurm } from "../../scripts/lib/slurm.mjs";
import { formatPhrase } from "@/core/frames/phrase";
import { countsOf } from "@/core/tally/tally";
import { followClusterByTheClock } from "@/server/cluster/follow-cluster";
import { sendRun, takeRunBack } from "@/server/actions/send-run";
import { startRun } from "@/server/actions/start-run";
import { stopRun } from "@/server/actions/stop-run";
import { rows } from "@/server/db/rows";
import { closePool, pool } from "@/server/db/pool";
import { dispatchOfRun } from "@/server/store/dispatches";
import { runById } from "@/server/store/runs";
import { loadSequence } from "@/server/views/tally";
import { openStage, type Stage, until } from "../support/stage";

let stage: Stage;
let slurm: Awaited<ReturnType<typeof startSlurm>>;
let folder: string;
let endFollowing = (): void => undefined;
const wrong: unknown[] = [];

beforeAll(async () => {
  folder = await fs.mkdtemp(path.join(os.tmpdir(), "plain-tally-slurm-"));
  slurm = await startSlurm(folder, ["lamp-1", "lamp-2"]);
  stage = await openStage();
  // Tasks know of the house what its configuration file says.
  await fs.writeFile(
    stage.env.PLAIN_TALLY_CONFIG!,
    JSON.stringify({
      databaseUrl: stage.env.PLAIN_TALLY_DATABASE_URL,
      roots: { frames: stage.root },
      cluster: { settings: slurm.settings },
    }),
  );
  endFollowing = followClusterByTheClock(pool, (error) => wrong.push(error));
});
afterAll(async () => {
  endFollowing();
  await slurm.end();
  await stage.strike();
  await closePool();
  await fs.rm(folder, { recursive: true, force: true });
  expect(wrong).toEqual([]);
});

const WISH = { policy: "fill", nodes: null, scope: "version" } as const;
const isDone = (runId: number) => until(`run ${runId} is done`, async () => (await runById(pool(), runId))?.state === "done");
interface Attempt {
  readonly frame: number;
  readonly outcome: string;
  readonly code: string | null;
  readonly node: string;
  readonly arrayTask: string | null;
}
const attemptsOf = (runId: number): Promise<Attempt[]> =>
  rows<Attempt>(
    pool(),
    `SELECT a.frame, a.outcome, a.code, n.name AS node, a.array_task AS arrayTask
      FROM attempt a JOIN node n ON n.id = a.node_id WHERE a.run_id = ? ORDER BY a.id`,
    [runId],
  );

test("a scattered set is one array of exactly these frames, and its pictures are those of any node", async () => {
  const shot = await stage.addShot("C1", { frames: "1-100" });
  const { runId } = await startRun({ ...WISH, sequenceId: shot.sequenceId, phrase: "55-57,77,90-96/2" });
  await sendRun(runId, {}, "Mara");
  const sent = (await dispatchOfRun(pool(), runId))!;
  expect(sent).toMatchObject({ waits: 8, sentBy: "Mara", fault: null });
  expect((await slurm.ask("squeue", "--noheader", "--format=%i %o", "--array")).length).toBeGreaterThan(0);
  await isDone(runId);
  const attempts = await attemptsOf(runId);
  expect(attempts.map((a) => a.frame).sort((a, b) => a - b)).toEqual([55, 56, 57, 77, 90, 92, 94, 96]);
  expect(new Set(attempts.map((a) => a.outcome))).toEqual(new Set(["done"]));
  expect(attempts.every((a) => a.arrayTask === `${sent.jobs[0]}_${a.frame}` && /^lamp-[12]-array$/.test(a.node))).toBe(true);
});
