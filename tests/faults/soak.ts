/**
 * Real processes under injected faults, one after the other, chosen by a seed. At the end every frame
 * must be there and bit for bit what an undisturbed render makes, none rendered to its end twice
 * without a reason, and no temporary file left.
 *
 * A person is played too: who presses Go on where a run is held or frames are set aside, and lets
 * nodes back in. What they had to do is told.
 */
import type { ChildProcess } from "node:child_process";
import crypto from "node:crypto";
import fs from "node:fs/promises";
import os from "node:os";
import path from "node:path";
import sharp from "sharp";
import { formatPhrase } from "@/core/frames/phrase";
import { countsOf } from "@/core/tally/tally";
import { closePool, pool, transact } from "@/server/db/pool";
import { marks, rows } from "@/server/db/rows";
import { openAsides } from "@/server/store/asides";
import { goesOn } from "@/core/run/run-life";
import { runById, type RunRow } from "@/server/store/runs";
import { loadSequence } from "@/server/views/tally";
import { letNodeIn } from "@/server/actions/nodes";
import { catchUp } from "@/server/folder/check";
import { rebuildBelow } from "@/server/actions/rebuild";
import { writeRecords } from "@/server/record/recorder";
import { startRun } from "@/server/actions/start-run";
import { sendRun } from "@/server/actions/send-run";
import { TallyError } from "@/server/errors";
import { installation } from "@/server/installation";
import { noteInstalled } from "@/server/store/installed";
import { startMariadb } from "../../scripts/lib/mariadb.mjs";
import { findProgram, SLURM } from "../../scripts/lib/prepare.mjs";
import { startSlurm } from "../../scripts/lib/slurm.mjs";
import { canMount, type Disk, mountDisk } from "../support/mounts";
import { killIfThere, processesWith, rendererOf } from "../support/processes";
import { killAndWait, openStage, type Stage, until } from "../support/stage";
import { differencesOf, dumpTables } from "../support/tables";
import { requireSequence } from "@/server/store/shots";
import { listRendering, runCounts } from "@/server/store/tasks";
import { resumeRun, stopRun } from "@/server/actions/stop-run";
import { isDatabaseAway } from "@/server/db/away";

export interface SoakResult {
  readonly faults: number;
  readonly frames: number;
  readonly good: number;
  readonly lost: number;
  /** Frames rendered to their end more than once without a reason. */
  readonly doubled: number;
  /** Temporary files, and saved samples of finished frames. */
  readonly leftovers: number;
  /** Rows that came back otherwise after the database was lost at the end and rebuilt from the records. */
  readonly unlike: number;
  readonly holds: boolean;
}

const FAULTS = [
  "kill-node",
  "kill-child",
  "kill-server",
  "sleep-node",
  "kill-database",
  "fill-disk",
  "cut-checkpoint",
  "remove-folder",
  "parallel-starts",
  "lock-rows",
  "upgrade",
  "send-to-cluster",
  "kill-array-tasks",
] as const;
type Fault = (typeof FAULTS)[number];
/** Only where there is a batch system. */
const OF_CLUSTER: readonly Fault[] = ["send-to-cluster", "kill-array-tasks"];
const MACHINE = "lamp-1";

const NODES = ["quay-1", "quay-2"] as const;
const FRAMES_A_SHOT = 16;
/** Some seconds a frame: long enough to be caught in the middle. */
const PLAN = { frames: `1-${FRAMES_A_SHOT}`, width: 128, height: 72, samples: 120 };
const DISK_BYTES = 400_000_000;
/** Less than a picture. */
const ROOM_LEFT_BYTES = 8_192;

/** Numbers from 0 to 1 that follow from the seed alone (mulberry32). */
function randomOf(seed: number): () => number {
  let state = seed | 0;
  return () => {
    state = (state + 0x6d2b79f5) | 0;
    let t = Math.imul(state ^ (state >>> 15), 1 | state);
    t = (t + Math.imul(t ^ (t >>> 7), 61 | t)) ^ t;
    return ((t ^ (t >>> 14)) >>> 0) / 4294967296;
  };
}

interface Shot {
  readonly code: string;
  readonly sequenceId: number;
  readonly folder: string;
}

class Soak {
  readonly #random: () => number;
  readonly #tell: (text: string) => void;
  readonly #databaseFolder: string;
  #database!: Awaited<ReturnType<typeof startMariadb>>;
  #stage!: Stage;
  #disk: Disk | null = null;
  /** Null where Slurm is not installed. */
  #slurm: Awaited<ReturnType<typeof startSlurm>> | null = null;
  #server!: { readonly address: string; readonly process: ChildProcess };
  readonly #nodes = new Map<string, ChildProcess>();
  readonly #shots: Shot[] = [];
  /** The newest, and all of them. */
  #runId = 0;
  readonly #runs: number[] = [];
  /** Frames whose finished file a fault took away: they are rendered again for a reason. */
  readonly #removed: string[] = [];
  #presses = 0;

  constructor(seed: number, databaseFolder: string, tell: (text: string) => void) {
    this.#random = randomOf(seed);
    this.#databaseFolder = databaseFolder;
    this.#tell = tell;
  }

  async run(faults: number): Promise<SoakResult> {
    this.#database = await startMariadb(this.#databaseFolder, { anySchema: true });
    this.#stage = await openStage(this.#database.url);
    try {
      await this.#startCluster();
      if (canMount) this.#disk = mountDisk(this.#stage.projectFolder, DISK_BYTES);
      for (const name of NODES) await this.#startNode(name);
      this.#server = await this.#stage.startServer();
      const reference = await this.#referencePixels();
      for (let n = 1; n <= faults; n++) {
        await this.#inWork();
        const fault = this.#pick(
          FAULTS.filter(
            (f) =>
              (f !== "fill-disk" || this.#disk !== null) && (this.#slurm !== null || !OF_CLUSTER.includes(f)),
          ),
        );
        this.#tell(`${n}. ${fault}`);
        await this.#inject(fault);
        await this.#play();
      }
      await this.#finish();
      return await this.#judge(faults, reference, await this.#loseDatabase());
    } catch (error) {
      await this.#tellState().catch((e: unknown) => this.#tell(String(e)));
      throw error;
    } finally {
      await this.#slurm?.end();
      this.#disk?.empty();
      this.#disk?.remove();
      await this.#stage.strike();
      await closePool();
      await this.#database.stop();
    }
  }

  /** A batch system with one machine, which the server follows; its tasks know of the house what the configuration says. */
  async #startCluster(): Promise<void> {
    if (!SLURM.every(({ program }) => findProgram(program) !== null)) return;
    this.#slurm = await startSlurm(path.join(this.#databaseFolder, "slurm"), [MACHINE]);
    await fs.writeFile(
      this.#stage.env.PLAIN_TALLY_CONFIG!,
      JSON.stringify({
        databaseUrl: this.#stage.env.PLAIN_TALLY_DATABASE_URL,
        roots: { frames: this.#stage.root },
        cluster: { settings: this.#slurm.settings },
      }),
    );
  }

  #pick<T>(list: readonly T[]): T {
    return list[Math.floor(this.#random() * list.length)]!;
  }

  /** Asks again while the database is away. */
  async #ask<T>(work: () => Promise<T>): Promise<T> {
    let found: { readonly value: T } | null = null;
    await until("the database answers", async () => {
      found = await work().then(
        (value) => ({ value }),
        (error: unknown) => {
          if (!isDatabaseAway(error)) throw error;
          return null;
        },
      );
      return found !== null;
    });
    return found!.value;
  }

  /**
   * Waits for a fact as long as work goes on: how long that takes is the machine's affair. Fails when nothing
   * moves for as long as `until` waits.
   */
  async #untilDone<T extends string | true>(what: string, find: () => Promise<T | null | false>): Promise<T> {
    for (let before = ""; ;) {
      const moved = await until(what, async () => {
        const found = await find();
        if (found !== null && found !== false) return { found, now: "" };
        const [state] = await this.#ask(() =>
          rows<object>(
            pool(),
            `SELECT (SELECT COUNT(*) FROM attempt) AS attempts,
                (SELECT COUNT(*) FROM task WHERE state = 'done') AS done,
                (SELECT SUM(progress) FROM task WHERE state = 'leased') AS share`,
          ),
        );
        const now = JSON.stringify(state);
        return now === before ? null : { found: null, now };
      });
      if (moved.found !== null) return moved.found;
      before = moved.now;
    }
  }

  async #startNode(name: string): Promise<void> {
    this.#nodes.set(name, await this.#stage.startNode(name));
  }

  /** The frames of an undisturbed run: what every other one must come to. */
  async #referencePixels(): Promise<ReadonlyMap<number, string>> {
    await this.#beginShot();
    await this.#untilDone(
      "the undisturbed run is done",
      async () => (await runById(pool(), this.#runId))?.state === "done",
    );
    return this.#pixelsOf(this.#shots[0]!);
  }

  async #addShot(): Promise<Shot> {
    const code = `S${String(this.#shots.length + 1).padStart(3, "0")}`;
    const shot = { code, ...(await this.#stage.addShot(code, PLAN)) };
    this.#shots.push(shot);
    return shot;
  }

  async #beginShot(): Promise<void> {
    const { sequenceId } = await this.#addShot();
    this.#isBegun(
      (await startRun({ sequenceId, phrase: "all", policy: "fill", nodes: null, scope: "version" })).runId,
    );
  }

  #isBegun(runId: number): void {
    this.#runId = runId;
    this.#runs.push(runId);
  }

  /** Waits until a frame is in the middle; begins another shot where nearly all is done. */
  async #inWork(): Promise<void> {
    await this.#untilDone("something renders", async () => {
      const counts = await this.#ask(() => runCounts(pool(), this.#runId));
      if (counts.waiting + counts.leased < NODES.length) await this.#beginShot();
      else await this.#play();
      return (await this.#ask(() => listRendering(pool()))).some((r) => (r.progress ?? 0) > 0);
    });
  }

  async #inject(fault: Fault): Promise<void> {
    const name = this.#pick(NODES);
    const node = this.#nodes.get(name)!;
    switch (fault) {
      case "kill-node":
        await killAndWait(node);
        return this.#startNode(name);
      case "kill-child": {
        const pid = await rendererOf(node);
        if (pid !== null) killIfThere(pid);
        return;
      }
      case "kill-server":
        await killAndWait(this.#server.process);
        this.#server = await this.#stage.startServer();
        return;
      case "sleep-node":
        node.kill("SIGSTOP");
        try {
          await until(
            "its lease has run out",
            async () =>
              !(
                await this.#ask(() =>
                  rows(
                    pool(),
                    `SELECT 1
                      FROM task t
                      JOIN node n ON n.id = t.node_id
                      WHERE n.name = ? AND t.state = 'leased' AND t.lease_until > NOW(6)`,
                    [name],
                  ),
                )
              ).length,
          );
        } finally {
          node.kill("SIGCONT");
        }
        return;
      case "kill-database":
        process.kill(this.#database.pid, "SIGKILL");
        await until("the database is gone", async () =>
          pool()
            .query("SELECT 1")
            .then(
              () => false,
              () => true,
            ),
        );
        this.#database = await startMariadb(this.#databaseFolder, {
          port: this.#database.port,
          anySchema: true,
        });
        return;
      case "fill-disk":
        this.#disk!.fill(ROOM_LEFT_BYTES);
        try {
          await this.#untilDone("the run is held, or over", async () => {
            // Samples of finished or lost frames are removed meanwhile: their room would take picture after
            // picture.
            this.#disk!.fill(ROOM_LEFT_BYTES);
            // Two may go on at once: the one whose picture finds no room is held, and the other only waits.
            const open = await this.#openRuns();
            return open.length === 0 || open.some((run) => run.held !== null) || (await this.#play(), false);
          });
        } finally {
          this.#disk!.empty();
        }
        return;
      case "cut-checkpoint":
        return this.#cutCheckpoint();
      case "remove-folder":
        return this.#removeFolder();
      case "parallel-starts":
        return this.#startTwice();
      case "lock-rows":
        return this.#lockRows();
      case "upgrade":
        return this.#upgrade();
      case "send-to-cluster":
        // It may be there already, or over.
        await sendRun(this.#runId, {}, null).catch((error: unknown) => {
          if (!(error instanceof TallyError)) throw error;
          this.#tell(`   ${error.message}`);
        });
        return;
      case "kill-array-tasks":
        for (const pid of await processesWith("--once", this.#stage.env.PLAIN_TALLY_CONFIG!))
          killIfThere(pid);
        return;
    }
  }

  /** The house is brought to another version: nodes end what they have and go, and those of the new one take their place. */
  async #upgrade(): Promise<void> {
    const over = [...this.#nodes.values()].map(
      (node) => new Promise((resolve) => node.once("exit", resolve)),
    );
    await this.#ask(() => noteInstalled(pool(), "another"));
    await Promise.all(over);
    await this.#ask(() => noteInstalled(pool(), installation().version));
    for (const name of NODES) await this.#startNode(name);
  }

  /** Stops the run with its samples saved, cuts one of them short, and goes on. */
  async #cutCheckpoint(): Promise<void> {
    await this.#ask(() => stopRun(this.#runId, "now")).catch(() => undefined);
    const state = await this.#untilDone("the run has stopped", async () =>
      ((s) => (s === "stopped" || s === "done" ? s : null))(
        (await this.#ask(() => runById(pool(), this.#runId)))?.state,
      ),
    );
    if (state === "done") return;
    const folder = path.join(this.#shots.at(-1)!.folder, "../../.tally/checkpoints/main");
    const files = (await fs.readdir(folder).catch(() => [])).sort();
    if (files.length > 0)
      await fs.truncate(path.join(folder, this.#pick(files)), Math.floor(1 + this.#random() * 5_000));
    await this.#ask(() => resumeRun(this.#runId));
  }

  /** Two people start the same frames at one moment: one run renders them. */
  async #startTwice(): Promise<void> {
    const { sequenceId } = await this.#addShot();
    const wish = { sequenceId, phrase: "all", policy: "fill", nodes: null, scope: "version" } as const;
    const answers = await Promise.all(
      [1, 2].map(() =>
        this.#ask(() => startRun(wish)).catch((error: unknown) => {
          if ((error as { code?: string }).code !== "nothing-to-render") throw error;
          return null;
        }),
      ),
    );
    const started = answers.filter((answer) => answer !== null);
    if (started.length !== 1) throw new Error(`${started.length} of two equal starts were taken.`);
    this.#isBegun(started[0]!.runId);
  }

  /** Another program holds the rows of all that is leased, for longer than the leases are. */
  async #lockRows(): Promise<void> {
    await this.#ask(() =>
      // Asked again as a whole where it is the one that the database undoes.
      transact(async (tx) => {
        // Those of nodes that stay: a lease of an array's task is longer than the database lets anybody hold rows.
        const leased = await rows<{ id: number }>(
          tx,
          "SELECT id FROM task WHERE state = 'leased' AND lease_until < NOW(6) + INTERVAL 5 SECOND FOR UPDATE",
        );
        if (leased.length === 0) return;
        await until("what was leased would have run out", async () =>
          (
            await this.#ask(() =>
              rows<{ isOver: number }>(
                pool(),
                `SELECT NOW(6) > MAX(lease_until) AS isOver FROM task WHERE id IN ${marks(leased)}`,
                leased.map((task) => task.id),
              ),
            )
          ).every(({ isOver }) => isOver === 1),
        );
      }),
    );
  }

  async #removeFolder(): Promise<void> {
    const { folder, sequenceId } = this.#shots.at(-1)!;
    // Taken away in one move, so that what was in it is known.
    const trash = await fs.mkdtemp(path.join(this.#stage.projectFolder, ".trash-"));
    await fs.rename(folder, path.join(trash, "beauty")).catch(() => undefined);
    for (const file of await fs.readdir(path.join(trash, "beauty")).catch(() => [])) {
      const frame = /\.(\d+)\.png$/.exec(file)?.[1];
      if (frame !== undefined) this.#removed.push(`${sequenceId}/${Number(frame)}`);
    }
    await fs.rm(trash, { recursive: true });
  }

  /** What a person would press: let nodes back in, go on where a run is held or frames are set aside. */
  async #play(): Promise<void> {
    for (const aside of await this.#ask(() => openAsides(pool()))) {
      if (aside.reason.code !== "fails-alone") continue;
      await this.#ask(() => letNodeIn(aside.id)).catch(() => undefined);
      this.#press(`let ${aside.node} back in`);
    }
    for (const run of await this.#openRuns()) {
      const counts = await this.#ask(() => runCounts(pool(), run.id));
      if (run.held?.code !== "scene-fails" && counts.failed === 0) continue;
      await this.#ask(() => resumeRun(run.id));
      this.#press(`went on with run ${run.id}`);
    }
  }

  /** Runs that go on, or have ended with frames set aside. */
  async #openRuns(): Promise<RunRow[]> {
    const open: RunRow[] = [];
    for (const id of this.#runs) {
      const run = await this.#ask(() => runById(pool(), id));
      const counts = await this.#ask(() => runCounts(pool(), id));
      if (run !== null && run.state !== "stopped" && (goesOn(run.state) || counts.failed > 0)) open.push(run);
    }
    return open;
  }

  /** What stood where it ended too early. */
  async #tellState(): Promise<void> {
    const asked = {
      run: "SELECT id, state, held FROM run WHERE state NOT IN ('done')",
      node: "SELECT name, seen_at, NOW(3) AS now FROM node",
      aside: "SELECT * FROM node_aside WHERE let_in_at IS NULL",
      task: `SELECT id, run_id, frame, state, tries, not_before, avoid_node_id, node_id, progress,
          lease_until
        FROM task
        WHERE state NOT IN ('done')`,
      attempt: `SELECT id, run_id, frame, node_id, outcome, started_at, ended_at, code, message
          FROM attempt
          ORDER BY id DESC
          LIMIT 12`,
    };
    for (const [what, sql] of Object.entries(asked))
      for (const line of await this.#ask(() => rows<object>(pool(), sql)))
        this.#tell(`${what} ${JSON.stringify(line)}`);
  }

  #press(what: string): void {
    this.#presses++;
    this.#tell(`   somebody ${what}`);
  }

  /** Until every frame of every shot is there: what a removed folder took is filled in. */
  async #finish(): Promise<void> {
    for (const shot of this.#shots) {
      await this.#untilDone(`${shot.code} is done`, async () => {
        await this.#play();
        const running = await this.#ask(() =>
          rows<{ id: number }>(
            pool(),
            `SELECT id
              FROM run
              WHERE sequence_id = ? AND state IN ('active', 'stopping', 'halting')`,
            [shot.sequenceId],
          ),
        );
        if (running.length > 0) {
          this.#runId = running[0]!.id;
          return false;
        }
        await this.#ask(async () => catchUp(await requireSequence(shot.sequenceId)));
        const { results } = countsOf((await this.#ask(() => loadSequence(shot.sequenceId))).tally);
        if (results.missing + results.partial + results.failed === 0) return true;
        const wish = { phrase: "all", policy: "fill", nodes: null, scope: "version" } as const;
        this.#isBegun((await startRun({ sequenceId: shot.sequenceId, ...wish })).runId);
        return false;
      });
    }
  }

  async #pixelsOf({ folder }: Shot): Promise<ReadonlyMap<number, string>> {
    const pixels = new Map<number, string>();
    for (const file of (await fs.readdir(folder)).sort()) {
      const data = await sharp(path.join(folder, file)).raw().toBuffer();
      pixels.set(
        Number(/\.(\d+)\.png$/.exec(file)![1]),
        crypto.createHash("sha256").update(data).digest("hex"),
      );
    }
    return pixels;
  }

  /** All stop, the database is gone, and the tally is rebuilt. @returns rows that are not as they were */
  async #loseDatabase(): Promise<number> {
    await this.#slurm?.end();
    this.#slurm = null;
    for (const node of this.#nodes.values()) await killAndWait(node);
    await killAndWait(this.#server.process);
    await writeRecords(pool());
    const before = await dumpTables();
    await this.#stage.loseDatabase();
    await rebuildBelow({
      root: "frames",
      folder: path.relative(this.#stage.root, this.#stage.projectFolder),
    });
    const unlike = differencesOf(before, await dumpTables());
    for (const row of unlike) this.#tell(`not as before the database was lost: ${row}`);
    this.#server = await this.#stage.startServer();
    return unlike.length;
  }

  async #judge(faults: number, reference: ReadonlyMap<number, string>, unlike: number): Promise<SoakResult> {
    let good = 0,
      lost = 0;
    for (const shot of this.#shots) {
      const { tally } = await loadSequence(shot.sequenceId);
      const { results } = countsOf(tally);
      const pixels = await this.#pixelsOf(shot);
      const same = [...reference].filter(([frame, hash]) => pixels.get(frame) === hash).length;
      good += Math.min(results.good, same);
      lost += tally.asked.count - Math.min(results.good, same);
      if (same !== tally.asked.count || results.good !== tally.asked.count)
        this.#tell(
          `${shot.code}: ${results.good} good by the tally (${formatPhrase(tally.results.good)}), ${same} with the right pixels`,
        );
      const page = (await (
        await fetch(`${this.#server.address}/api/sequences/${shot.sequenceId}`)
      ).json()) as { tally: { results: { good: number[] } } };
      if (
        JSON.stringify(page.tally.results.good) !==
        JSON.stringify(tally.results.good.runs.flatMap((r) => [r.first, r.last, r.step]))
      )
        throw new Error(`The page of ${shot.code} says something else than the tally.`);
    }
    const twice = await rows<{ sequenceId: number; frame: number; ends: number }>(
      pool(),
      `SELECT sequence_id AS sequenceId, frame, COUNT(*) AS ends
        FROM attempt
        WHERE outcome = 'done'
        GROUP BY sequence_id, frame
        HAVING COUNT(*) > 1`,
    );
    const doubled = twice.filter(
      ({ sequenceId, frame, ends }) =>
        ends > 1 + this.#removed.filter((r) => r === `${sequenceId}/${frame}`).length,
    ).length;
    const left = await leftoversIn(this.#stage.projectFolder);
    for (const file of left) this.#tell(`left over: ${file}`);
    this.#tell(
      `${this.#removed.length} finished frames were taken away by faults; somebody pressed something ${this.#presses} times`,
    );
    return {
      faults,
      frames: this.#shots.length * FRAMES_A_SHOT,
      good,
      lost,
      doubled,
      leftovers: left.length,
      unlike,
      holds: lost === 0 && doubled === 0 && left.length === 0 && unlike === 0,
    };
  }
}

/** Temporary files, copies that were not finished, and saved samples of frames that are good. */
async function leftoversIn(folder: string): Promise<string[]> {
  const names = await fs.readdir(folder, { recursive: true, withFileTypes: true });
  return names
    .filter(
      (f) =>
        f.isFile() && (/\.part\d/.test(f.name) || f.name.endsWith(".copy") || f.name.endsWith(".checkpoint")),
    )
    .map((f) => path.relative(folder, path.join(f.parentPath, f.name)));
}

/** Runs so many faults. @param tell hears each fault and what was done about it */
export async function soak(options: {
  readonly faults: number;
  readonly seed: number;
  readonly tell: (text: string) => void;
}): Promise<SoakResult> {
  const folder = await fs.mkdtemp(path.join(os.tmpdir(), "plain-tally-soak-"));
  try {
    return await new Soak(options.seed, folder, options.tell).run(options.faults);
  } finally {
    await fs.rm(folder, { recursive: true, force: true });
  }
}
