/** `plain-tally status` and `plain-tally run`: the tally of a shot, and runs started from a shell. */
import { setTimeout as pause } from "node:timers/promises";
import { formatPhrase } from "@/core/frames/phrase";
import { POLICIES, type Policy } from "@/core/plan/what-to-render";
import { sentenceText } from "@/core/tally/sentence";
import { countsOf, todoOf } from "@/core/tally/tally";
import { pool } from "@/server/db/pool";
import { runById, runCounts } from "@/server/store/runs";
import { listVersions, sequencesOfVersion, type SequenceRow, shotByCode } from "@/server/store/shots";
import { startRun } from "@/server/work/start-run";
import { loadSequence } from "@/server/work/tally";
import { CallWrong, EXIT, type ExitCode, print, printJson } from "./command";

export interface SequenceOptions {
  readonly version?: string;
  readonly camera?: string;
  readonly pass?: string;
}

/** The sequence that a shot's code and options mean: the newest version, its first camera, beauty. */
async function findSequence(code: string, options: SequenceOptions): Promise<SequenceRow> {
  const shot = await shotByCode(pool(), code);
  if (shot === null) throw new CallWrong(`there is no shot ${code}`);
  const versions = await listVersions(pool(), shot.id);
  const version = options.version === undefined ? versions.at(-1) : versions.find((v) => v.number === Number(options.version!.replace(/^v/i, "")));
  if (version === undefined) throw new CallWrong(options.version === undefined ? `${code} has no version yet` : `${code} has no version ${options.version}`);
  const sequences = await sequencesOfVersion(pool(), version.id);
  const found = sequences.find((s) => (options.camera === undefined || s.camera === options.camera) && (options.pass === undefined || s.pass === options.pass));
  if (found === undefined) throw new CallWrong(`${code} has no such camera or pass; it has ${sequences.map((s) => `${s.camera} ${s.pass}`).join(", ") || "none"}`);
  return found;
}

export async function statusCommand(code: string | undefined, options: SequenceOptions & { readonly json?: boolean }): Promise<ExitCode> {
  if (code === undefined) throw new CallWrong("name a shot, such as HL010");
  const { sequence, tally } = await loadSequence((await findSequence(code, options)).id);
  const counts = countsOf(tally);
  const todo = formatPhrase(todoOf(tally));
  if (options.json) printJson({ shot: sequence.shot, version: sequence.version, camera: sequence.camera, pass: sequence.pass, asked: counts.asked, results: counts.results, activity: counts.activity, todo });
  else print(`${sequence.shot} v${String(sequence.version).padStart(3, "0")} ${sequence.camera} ${sequence.pass}: ${sentenceText(counts)}${todo === "" ? "" : `\nto do: ${todo}`}`);
  return todo === "" ? EXIT.fine : EXIT.frames;
}

export interface RunOptions extends SequenceOptions {
  readonly policy: string;
  readonly nodes?: string;
  readonly wait?: boolean;
  readonly json?: boolean;
}

export async function runCommand(code: string, phrase: string | undefined, options: RunOptions): Promise<ExitCode> {
  const policy = POLICIES.find((p): p is Policy => p === options.policy);
  if (policy === undefined) throw new CallWrong(`--policy must be one of ${POLICIES.join(", ")}`);
  const sequence = await findSequence(code, options);
  const { runId, decision } = await startRun({ sequenceId: sequence.id, phrase: phrase ?? "all", policy, nodes: options.nodes === undefined ? null : options.nodes.split(",").map((n) => n.trim()) });
  const frames = formatPhrase(decision.toRender);
  if (options.json) printJson({ run: runId, frames, count: decision.toRender.count });
  else print(`Run ${runId} renders ${frames} (${decision.toRender.count} frames).`);
  if (!options.wait) return EXIT.fine;
  for (;;) {
    const run = await runById(pool(), runId);
    const counts = await runCounts(pool(), runId);
    if (run!.state === "done" || run!.state === "stopped") {
      if (!options.json) print(`Run ${runId} is ${run!.state}: ${counts.done} done, ${counts.failed} failed, ${counts.waiting} left.`);
      return counts.failed + counts.waiting > 0 ? EXIT.frames : EXIT.fine;
    }
    await pause(500);
  }
}
