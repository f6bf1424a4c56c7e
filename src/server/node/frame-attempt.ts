/**
 * One attempt at one leased frame: renders it in the engine, saves its samples on the way, puts the
 * files in their places, and says what became of it.
 *
 *     rendering --files in place--> done
 *        |-- asked to stop: samples saved --> stopped, the frame waits again
 *        |-- lease lost: killed, temporary files removed --> nothing is kept
 *        |-- error --> failed, with its log
 */
import fs from "node:fs/promises";
import path from "node:path";
import { readPlan } from "@/core/plan/plan";
import { savedText } from "@/core/run/checkpoint";
import { type EngineHooks, RenderFailed, secondsOf } from "../engines/engine";
import { giveBack } from "../queue/lease";
import { AttemptLines } from "./attempt-lines";
import { sayAll, sayInFolder, sayOfAttempt } from "./attempt-log";
import { measureLoad } from "./machine-load";
import { appendManifest } from "./manifest";
import type { FinishedFrame, FinishedPass } from "./place-frame";
import type { LogLevel } from "@/contract/log";
import {
  gatheredLightFolder,
  checkpointFolder,
  keptFolder,
  versionPlace,
  temporaryOf,
} from "../files/layout";
import { asideOf, finalsOf, workOf } from "./leased-work";
import { keptGuides } from "./kept-guides";
import { asideLeftover } from "../files/put-in-place";
import { buildFrameJob } from "../engines/frame-job";
import { CheckpointKeeper } from "./checkpoint-keeper";
import { type AttemptEnd, giveUp } from "./attempt-end";
import { placePatiently } from "./place-patiently";
import type { AttemptHost, AttemptSignals } from "./attempt-host";
import type { LeasedFrame } from "../queue/leased-frame";
import { keepsState } from "../scenes/renderers";
import { judgeRun } from "../queue/judgement";
import { requireMark } from "../files/project-mark";

/** Never throws for what a frame can do to it: its end says what became of it, and the node goes on. */
export async function attemptFrame(
  host: AttemptHost,
  lease: LeasedFrame,
  signals: AttemptSignals,
): Promise<AttemptEnd> {
  const { pool, engine, name, faults } = host;
  let folder: string | null = null;
  const said = new AttemptLines((lines) => sayInFolder(lease, name, folder, lines));
  const log = (level: LogLevel, text: string): void => {
    if (said.say(level, text)) host.log(level, `${lease.shot} ${lease.frame}: ${text}`);
  };
  let passes: readonly FinishedPass[] = [];
  const keeper = new CheckpointKeeper(host, lease, log);
  try {
    const read = readPlan(lease.plan);
    if (!read.ok) throw new RenderFailed("plan-wrong", { message: read.faults[0]!.message });
    const version = versionPlace(lease);
    folder = version;
    const without = faults.hiddenAmong(Object.keys(lease.sources.files));
    const finals = await finalsOf(lease, read.value, version);
    await requireMark(lease);
    for (const { final } of finals) await fs.mkdir(path.dirname(final), { recursive: true });
    // What a vanished node left of this frame. A node that only slept cannot place its file any more.
    for (const { pass, final } of finals)
      for (const attempt of lease.lostAttempts) {
        await fs.rm(temporaryOf(final, attempt), { force: true });
        await fs.rm(asideLeftover(final, asideOf(lease, version, pass), attempt), { force: true });
      }
    const guides = await keptGuides(lease, read.value, version);
    const keepsSamples = guides === null && lease.kind === "sequence" && keepsState(lease.plan.renderer);
    const built = buildFrameJob({
      ...workOf(lease, name, version, without),
      finals,
      samples: keepsSamples
        ? { folder: await keeper.open(version), staysWhenDone: lease.plan.keepSamples }
        : null,
      light:
        lease.kind === "proof" ? null : { folder: gatheredLightFolder(version, lease.camera), output: null },
      kept: lease.kind === "proof" ? null : keptFolder(version, lease.camera),
      upcoming: host.upcoming,
      spentSeconds: lease.spentSeconds,
      guides,
    });
    const { job } = built;
    passes = built.passes.map((pass) => ({ ...pass, sequenceId: lease.sequenceIds.get(pass.pass)! }));
    // At once, so that the log shows what is in work; what the render says follows when it is over.
    await sayOfAttempt(pool, lease, name, folder, [
      {
        level: "info",
        text: `started on ${name}${job.guides === null ? "" : ": denoising the kept beauty, nothing is rendered"}`,
      },
    ]);
    const rendered = performance.now();
    const load = measureLoad();
    const heard =
      <A extends readonly unknown[]>(tell: (...args: A) => void) =>
      (...args: A): void => {
        host.onHeard();
        tell(...args);
      };
    const hooks: EngineHooks = {
      log: heard(log),
      preview: heard(host.onPreview),
      noRoom: heard(host.onNoRoom),
      checkpoint: heard((saved) => keeper.place(saved)),
      progress: heard((share) => {
        host.onProgress(share);
        faults.during(host.count, share);
      }),
    };
    const result = await engine.render(job, hooks, signals.abort, signals.stop).finally(host.onOver);
    if (result.saved !== null) keeper.place(result.saved);
    await keeper.settle();
    if (result.kind === "stopped") {
      const failure = host.failure();
      if (failure !== null) throw failure;
      log(
        "info",
        result.saved === null
          ? "stopped; its samples are not kept"
          : `stopped at ${savedText(result.saved.header, lease.plan)}; that much is saved`,
      );
      await host.whileAway(() => giveBack(pool, lease));
      await sayAll(pool, lease, name, folder, said);
      return { kind: "given-back" };
    }
    const { output } = result;
    const otherLoad = load.others(output.cpuSeconds);
    await faults.after((performance.now() - rendered) / 1000, signals.abort);
    signals.abort.throwIfAborted();
    const finished: FinishedFrame = {
      lease,
      output,
      passes,
      versionFolder: version,
      dropCheckpointIn:
        lease.kind === "sequence" && !lease.plan.keepSamples ? checkpointFolder(version, lease.camera) : null,
      node: name,
      otherLoad,
      without,
      lines: said.kept,
    };
    await placePatiently(host, finished, signals.abort);
    // From here on the frame is there, whatever fails.
    await sayInFolder(lease, name, folder, await said.unsaid());
    if (lease.failures > 0) await host.whileAway(() => judgeRun(pool, lease.runId));
    host.log("info", `${lease.shot} ${lease.frame}: done in ${secondsOf(output).toFixed(2)} s`);
    // The frame is in its place and says itself who made it: a line that cannot be written is no failure of
    // it.
    if (lease.kind === "sequence")
      await appendManifest(
        { ...finished, run: lease.runId, attempt: lease.attemptId, camera: lease.camera, frame: lease.frame },
        new Date(),
      ).catch((error: Error) =>
        host.log("warning", `${lease.shot} ${lease.frame}: no line in the manifest: ${error.message}`),
      );
    return {
      kind: "made",
      pace: {
        startupSeconds: output.batchStartupSeconds,
        frameSeconds: secondsOf(output) - output.startupSeconds - output.light.seconds,
      },
    };
  } catch (error) {
    // What was saved before it failed is put in place while the lease still holds.
    await keeper.settle().catch(() => undefined);
    return await giveUp(host, lease, error, signals, { folder, said });
  } finally {
    await keeper.clear();
    for (const { temporary } of passes) await fs.rm(temporary, { force: true }).catch(() => undefined);
  }
}
