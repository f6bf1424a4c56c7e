/**
 * One lease, from its description to its end, with a heartbeat beside it: it is renewed and told of, the renderer is
 * watched, and what is asked of it meanwhile is heard. The same for a node that stays and for one of an array.
 */
import { setTimeout as pause } from "node:timers/promises";
import type { LogLevel } from "@/contract/log";
import { timeLimitOf } from "@/core/estimate/expected";
import type { TaskKind } from "@/core/run/task-life";
import { isDatabaseAway } from "../db/away";
import type { Pool } from "../db/pool";
import { type Engine, RenderFailed } from "../engines/engine";
import { LeaseLost } from "../errors";
import { type Lease, renew } from "../queue/lease";
import { describeLease, type LeasedFrame } from "../queue/leased-frame";
import { savePreview } from "../store/previews";
import { type AttemptEnd, giveUp } from "./attempt-end";
import type { AttemptHost, AttemptSignals } from "./attempt-host";
import { AttemptLines } from "./attempt-lines";
import { AttemptWatch, SILENCE_SECONDS } from "./attempt-watch";
import { holdForSpace } from "./disk-space";
import type { NodeFaults } from "./faults";
import { attemptFrame } from "./frame-attempt";
import { LeaseClock, machineSeconds } from "./lease-clock";
import { attemptLight } from "./light-attempt";

/** How often it is looked whether the renderer still works as it should. */
const WATCH_MS = 700;

/**
 * How long a renderer may take to save what it has. A checkpoint of a large picture with all passes is a few
 * hundred megabytes.
 */
const STOP_GRACE_MS = 20_000;

/** Whoever holds the lease, and what is decided of it. */
export interface LeaseHolder {
  readonly pool: Pool;
  readonly engine: Engine;
  /** Of the node. */
  readonly name: string;
  readonly faults: NodeFaults;
  readonly leaseSeconds: number;
  /** A renderer that says nothing for so long hangs. */
  readonly silenceSeconds: number | undefined;
  /** Frames that take less are never hurried. */
  readonly leastLimitSeconds: number | undefined;
  /** Between two renewals: progress is told, and a stop at once is heard, as fast. */
  readonly beatMs: () => number;
  /** Number of this frame, counted from the node's start. */
  readonly count: number;
  readonly log: (level: LogLevel, text: string) => void;
  readonly whileAway: (work: () => Promise<void>) => Promise<void>;
  readonly proveReady: (runId: number) => Promise<boolean>;
  /** A renderer that uses more is ended; null: no limit. */
  readonly memoryMb: () => number | null;
  /** What is in work shall be saved and given back. */
  readonly mustLetGo: () => boolean;
  /** Given what asks the frame to be saved and given back; null when it is over. */
  readonly onBusy: (askToStop: (() => void) | null) => void;
  /** Keeps what is behind the frame in its batch. */
  readonly extend: () => Promise<void>;
  /** Frames of its batch that the same call could make. */
  readonly upcomingOf: (lease: Lease) => readonly number[];
  /** Why what is in work is taken away, where that is a failure of the attempt; null: it is none. */
  readonly takenAway?: () => RenderFailed | null;
}

type Attempt = (host: AttemptHost, lease: LeasedFrame, signals: AttemptSignals) => Promise<AttemptEnd>;

/**
 * A kind of task that no program of this version puts into the queue: told as a failure, should one be there.
 */
const notHere: Attempt = (host, lease, signals) =>
  giveUp(host, lease, new RenderFailed("task-kind-not-here", { kind: lease.taskKind }), signals, {
    folder: null,
    said: new AttemptLines(() => Promise.resolve()),
  });

/** How a node makes each kind of task. */
const ATTEMPTS: Readonly<Record<TaskKind, Attempt>> = {
  frame: attemptFrame,
  light: attemptLight,
  check: notHere,
  scan: notHere,
  encode: notHere,
};

/** Settles when the lease is given back, closed or lost. @throws LeaseLost */
export async function attemptLease(holder: LeaseHolder, lease: Lease): Promise<AttemptEnd> {
  const { pool, engine, name, leaseSeconds, log, whileAway } = holder;
  // From before anything is read: the lease was asked for earlier still, by no more than a round trip.
  const held = new LeaseClock(leaseSeconds, machineSeconds());
  const frame = await describeLease(pool, lease);
  const abort = new AbortController();
  const stop = new AbortController();
  let grace: NodeJS.Timeout | undefined;
  // Saving what there is takes a moment; a renderer that does not come to an end is killed.
  const askToStop = (): void => {
    stop.abort();
    grace ??= setTimeout(() => abort.abort(new Error("stop")), STOP_GRACE_MS);
  };
  holder.onBusy(askToStop);
  if (holder.mustLetGo()) askToStop();
  const watch = new AttemptWatch(
    timeLimitOf(frame.expectedSeconds, holder.leastLimitSeconds),
    holder.silenceSeconds ?? SILENCE_SECONDS,
    performance.now(),
  );
  const judgeNow = (): void => {
    const how = watch.judge(performance.now(), engine.memoryMb(), holder.memoryMb());
    if (how === "kill") abort.abort(watch.failure);
    else if (how === "save" || held.isOver(machineSeconds())) askToStop();
  };
  let isTold = false;
  let holding: Promise<void> | null = null;
  const onNoRoom = (bytes: number): void => {
    watch.noRoom(performance.now());
    if (!isTold)
      log(
        "warning",
        `${frame.shot} ${frame.frame}: the disk is full; the picture is kept and written when there is room`,
      );
    isTold = true;
    // Asked each time: the database may have been away, and somebody may have let the run go on too early.
    holding ??= holdForSpace(pool, frame.runId, bytes)
      .catch((error: Error) => log("warning", error.message))
      .finally(() => (holding = null));
  };
  let share = 0;
  let preview: Uint8Array | null = null;
  // Beside the heartbeat: that may wait long for its answer. When the lease is over by our own clock, what
  // there is is saved, and put in its place if the frame is still ours when the database is back.
  const judging = setInterval(judgeNow, WATCH_MS);
  const beats = (async (): Promise<void> => {
    while (!abort.signal.aborted) {
      await pause(Math.min(holder.beatMs(), (leaseSeconds * 1000) / 4), undefined, {
        signal: abort.signal,
      }).catch(() => undefined);
      if (abort.signal.aborted) return;
      try {
        const sentAt = machineSeconds();
        const state = await renew(pool, lease, share, leaseSeconds);
        held.renewed(sentAt, machineSeconds());
        await holder.extend();
        if (preview !== null) await savePreview(pool, lease, preview);
        preview = null;
        if (state === "halting" || state === "put-back") askToStop();
        else if (state === "stopped" || state === "done") abort.abort(new LeaseLost());
      } catch (error) {
        if (error instanceof LeaseLost) abort.abort(error);
        else if (!isDatabaseAway(error)) abort.abort(error);
      }
    }
  })();
  const host: AttemptHost = {
    pool,
    engine,
    name,
    faults: holder.faults,
    count: holder.count,
    upcoming: holder.upcomingOf(lease),
    log,
    whileAway,
    onProgress: (s) => (share = s),
    onPreview: (jpeg) => (preview = jpeg),
    onNoRoom,
    onHeard: () => watch.heard(performance.now()),
    onOver: () => clearInterval(judging),
    failure: () => watch.failure ?? holder.takenAway?.() ?? null,
    proveReady: holder.proveReady,
  };
  try {
    const signals = { abort: abort.signal, stop: stop.signal };
    return await ATTEMPTS[frame.taskKind](host, frame, signals);
  } finally {
    clearTimeout(grace);
    clearInterval(judging);
    holder.onBusy(null);
    abort.abort(new LeaseLost());
    await beats;
  }
}
