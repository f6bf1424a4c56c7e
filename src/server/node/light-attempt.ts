/**
 * One attempt at the first part of a run whose scene asks for gathered light: that of one frame, and no
 * picture.
 */
import fs from "node:fs";
import path from "node:path";
import { transact } from "../db/pool";
import { RenderFailed, secondsOf } from "../engines/engine";
import { insideFolder } from "../files/paths";
import { proveGatheredLight } from "../files/gathered-light-files";
import { finish, giveBack, holdLease } from "../queue/lease";
import { measureLoad } from "./machine-load";
import { beginSecondParts } from "../queue/settle";
import { appendFrameEvent } from "../store/events";
import { AttemptLines } from "./attempt-lines";
import { sayAll, sayInFolder, sayOfAttempt, withAgo } from "./attempt-log";
import { gatheredLightFile, gatheredLightFolder, versionPlace, temporaryOf } from "../files/layout";
import { buildFrameJob, PLAIN_WORK } from "../engines/frame-job";
import { workOf } from "./leased-work";
import { type AttemptEnd, giveUp } from "./attempt-end";
import type { AttemptHost, AttemptSignals } from "./attempt-host";
import { appendLines } from "../store/attempt-lines";
import type { LeasedFrame } from "../queue/leased-frame";
import { requireMark } from "../files/project-mark";

/** Frames of the run begin when the last of these attempts is done. */
export async function attemptLight(
  host: AttemptHost,
  lease: LeasedFrame,
  signals: AttemptSignals,
): Promise<AttemptEnd> {
  const end = await attempt(host, lease, signals);
  // At once, not when a node is idle: other runs may keep all of them busy.
  await host.whileAway(() => beginSecondParts(host.pool));
  return end;
}

/** Gathers into a temporary file, and puts it in its place under the lease, as frames are. */
async function attempt(host: AttemptHost, lease: LeasedFrame, signals: AttemptSignals): Promise<AttemptEnd> {
  const { pool, engine, name } = host;
  let folder: string | null = null;
  const said = new AttemptLines((lines) => sayInFolder(lease, name, folder, lines));
  let output: string | null = null;
  try {
    const version = versionPlace(lease);
    folder = version;
    const place = await insideFolder(
      version,
      path.relative(version, gatheredLightFolder(version, lease.camera)),
    );
    await requireMark(lease);
    fs.mkdirSync(place, { recursive: true });
    const final = gatheredLightFile(place, lease.frame);
    for (const attempt of lease.lostAttempts) fs.rmSync(temporaryOf(final, attempt), { force: true });
    output = temporaryOf(final, lease.attemptId);
    await sayOfAttempt(pool, lease, name, folder, [
      {
        level: "info",
        text: `started on ${name}: the gathered light of ${lease.frame}, which writes no picture`,
      },
    ]);
    const { job } = buildFrameJob({
      ...PLAIN_WORK,
      ...workOf(lease, name, version, []),
      finals: [],
      light: { folder: place, output },
    });
    const load = measureLoad();
    const result = await engine
      .render(
        job,
        {
          log: (level, text) => {
            host.onHeard();
            if (said.say(level, text)) host.log(level, `${lease.shot} ${lease.frame}: ${text}`);
          },
          progress: (share) => {
            host.onHeard();
            host.onProgress(share);
          },
          preview: () => undefined,
          noRoom: host.onNoRoom,
          checkpoint: () => undefined,
        },
        signals.abort,
        signals.stop,
      )
      .finally(host.onOver);
    const failure = host.failure();
    if (failure !== null) throw failure;
    if (result.kind === "stopped") {
      await host.whileAway(() => giveBack(pool, lease));
      said.say("info", "stopped; half of it is of no use");
      await sayAll(pool, lease, name, folder, said);
      return { kind: "given-back" };
    }
    if (typeof (await proveGatheredLight(output, job.light!.look)) === "string")
      throw new RenderFailed("wrote-damaged-file", { what: "The gathered light", detail: null });
    const { output: made } = result;
    const otherLoad = load.others(made.cpuSeconds);
    await host.whileAway(() =>
      transact(async (tx) => {
        await holdLease(tx, lease);
        // A transaction that is run again finds the file in its place.
        if (fs.existsSync(output!)) fs.renameSync(output!, final);
        await finish(tx, lease, { ...made, otherLoad });
        const ended = { level: "info", text: `in place after ${secondsOf(made).toFixed(2)} s` } as const;
        await appendLines(tx, lease.attemptId, withAgo([...said.kept, ended]));
        await appendFrameEvent(tx, "task", lease, lease.frame);
      }, pool),
    );
    await sayInFolder(lease, name, folder, await said.unsaid());
    host.log("info", `${lease.shot} ${lease.frame}: light gathered in ${secondsOf(made).toFixed(2)} s`);
    return {
      kind: "made",
      pace: { startupSeconds: made.startupSeconds, frameSeconds: made.light.seconds },
    };
  } catch (error) {
    return await giveUp(host, lease, error, signals, { folder, said });
  } finally {
    if (output !== null) fs.rmSync(output, { force: true });
  }
}
