/** Entry of the engine child: renders the jobs that its node sends, one at a time, and ends with it. */
import type { FromChild, ToChild } from "@/contract/engine-messages";
import { type FrameJob, type FrameOutput, RenderFailed } from "./engine";
import { renderJob } from "./render-job";

const parent = process.ppid;
const send = (message: FromChild<FrameOutput>): void => void process.send?.(message);
/** After kill -9 of the node the parent's id changes at once; a busy child would compute on. */
const isOrphaned = (): boolean => process.ppid !== parent;

process.on("disconnect", () => process.exit(0));
// Ctrl-C reaches the whole group; the node decides when its child ends.
process.on("SIGINT", () => undefined);

process.on("message", (message: ToChild<FrameJob>) => {
  const { id, job } = message;
  renderJob(job, { progress: (share) => send({ type: "progress", id, share }), log: (level, text) => send({ type: "log", id, level, text }) }, isOrphaned).then(
    (output) => send({ type: "done", id, output }),
    (error: Error) => {
      if (isOrphaned()) process.exit(0);
      send({ type: "failed", id, code: error instanceof RenderFailed ? error.code : "engine-error", message: error.message });
    },
  );
});
send({ type: "ready" });
