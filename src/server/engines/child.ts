/** Entry of the engine child: renders the jobs that its node sends, one at a time, and ends with it. */
import type { FromChild, ToChild } from "@/contract/engine-messages";
import { type FrameJob, RenderFailed, type RenderResult, type SavedCheckpoint } from "./engine";
import { SceneKeeper } from "./loaded-scene";
import { renderJob } from "./render-job";
import type { LogLevel } from "@/contract/log";

const parent = process.ppid;
const scenes = new SceneKeeper();
const send = (message: FromChild<RenderResult, SavedCheckpoint>): void => void process.send?.(message);
/** Id of the render that is asked to save what it has and to end. */
let stopped = 0;
/** After kill -9 of the node the parent's id changes at once; a busy child would compute on. */
const isOrphaned = (): boolean => process.ppid !== parent;

process.on("disconnect", () => process.exit(0));
// Ctrl-C reaches the whole group, and a batch system tells every process of a task to end; the node decides when its child does.
for (const signal of ["SIGINT", "SIGTERM"] as const) process.on(signal, () => undefined);

process.on("message", (message: ToChild<FrameJob>) => {
  const { id } = message;
  if (message.type === "stop") {
    stopped = id;
    return;
  }
  const hooks = {
    progress: (share: number) => send({ type: "progress", id, share }),
    log: (level: LogLevel, text: string) => send({ type: "log", id, level, text }),
    noRoom: (bytes: number) => send({ type: "no-room", id, bytes }),
    checkpoint: (saved: SavedCheckpoint) => send({ type: "checkpoint", id, saved }),
    preview: (jpeg: Uint8Array) => send({ type: "preview", id, jpeg }),
  };
  renderJob(message.job, hooks, { isOrphaned, isStopping: () => stopped === id }, scenes).then(
    (result) => send({ type: "done", id, result }),
    (error: Error) => {
      if (isOrphaned()) process.exit(0);
      send({
        type: "failed",
        id,
        code: error instanceof RenderFailed ? error.code : "engine-error",
        message: error.message,
      });
    },
  );
});
send({ type: "ready" });
