/** The version's own record of what was made: append-only lines, one file a node, merged on reading. */
import fs from "node:fs/promises";
import path from "node:path";
import type { FinishedFrame } from "./place-frame";

export async function appendManifest(frame: FinishedFrame, finishedAt: Date): Promise<void> {
  const { lease, output } = frame;
  const file = path.join(frame.versionFolder, ".tally", "manifest", `${frame.node}.jsonl`);
  await fs.mkdir(path.dirname(file), { recursive: true });
  const seconds = { startup: output.startupSeconds, render: output.renderSeconds, denoise: output.denoiseSeconds, write: output.writeSeconds };
  const lines = frame.passes.map(({ pass, final, fingerprints }) => ({
    at: finishedAt.toISOString(), frame: lease.frame, camera: lease.camera, pass, file: path.basename(final), run: lease.runId, attempt: lease.attemptId,
    fingerprints, samples: output.samples, seconds, luminance: output.passes.find((p) => p.pass === pass)?.luminance, without: frame.without,
  }));
  await fs.appendFile(file, lines.map((line) => `${JSON.stringify(line)}\n`).join(""));
}
