/**
 * The version's own record of what was made: append-only lines, one file a node, merged on reading.
 * Whoever has only the folder can tell from it who made what and from what. It is never read to decide
 * anything: the files themselves and the database do that.
 */
import fs from "node:fs/promises";
import path from "node:path";
import type { Fingerprints } from "@/core/plan/fingerprint";
import type { Pass } from "@/core/plan/passes";
import type { FrameOutput } from "../engines/engine";
import { manifestFile } from "../files/layout";

export interface MadeFiles {
  /** Absolute, on this machine. */
  readonly versionFolder: string;
  /** Its name: part of the name of the file of lines. */
  readonly node: string;
  readonly run: number;
  /** Of a machine without database: 0. */
  readonly attempt: number;
  /** As the scene calls it. */
  readonly camera: string;
  readonly frame: number;
  /** What the engine measured. */
  readonly output: FrameOutput;
  /** Its files by their final names, with what they are. */
  readonly passes: readonly {
    readonly pass: Pass;
    /** Absolute; relative to the version in the line. */
    readonly final: string;
    readonly fingerprints: Fingerprints;
  }[];
  /** Files that the render had to do without. */
  readonly without: readonly string[];
}

/** One line for an attempt that placed files. Read where there is no database any more. */
export async function appendManifest(
  { versionFolder, node, run, attempt, camera, frame, output, passes, without }: MadeFiles,
  finishedAt: Date,
): Promise<void> {
  const file = manifestFile(versionFolder, node);
  await fs.mkdir(path.dirname(file), { recursive: true });
  const seconds = {
    startup: output.startupSeconds,
    light: output.light.seconds,
    render: output.renderSeconds,
    denoise: output.denoiseSeconds,
    write: output.writeSeconds,
  };
  const lines = passes.map(({ pass, final, fingerprints }) => ({
    at: finishedAt.toISOString(),
    frame,
    camera,
    pass,
    file: path.basename(final),
    run,
    attempt,
    fingerprints,
    samples: output.samples,
    seconds,
    luminance: output.passes.find((p) => p.pass === pass)?.luminance,
    without,
  }));
  await fs.appendFile(file, lines.map((line) => `${JSON.stringify(line)}\n`).join(""));
}
