/** The version's own record of what was made: append-only lines, one file a node, merged on reading. */
import fs from "node:fs/promises";
import path from "node:path";
import type { FinishedFrame } from "./place-frame";

export async function appendManifest(frame: FinishedFrame, finishedAt: Date): Promise<void> {
  const { lease, output } = frame;
  const file = path.join(frame.versionFolder, ".tally", "manifest", `${frame.node}.jsonl`);
  await fs.mkdir(path.dirname(file), { recursive: true });
  const line = {
    at: finishedAt.toISOString(), frame: lease.frame, camera: lease.camera, pass: lease.pass, file: path.basename(frame.final), run: lease.runId, attempt: lease.attemptId,
    fingerprints: frame.fingerprints, samples: output.samples, seconds: { startup: output.startupSeconds, render: output.renderSeconds, write: output.writeSeconds }, luminance: output.luminance, without: frame.without,
  };
  await fs.appendFile(file, `${JSON.stringify(line)}\n`);
}
