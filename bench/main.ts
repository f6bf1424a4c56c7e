/** Runs one benchmark, or each in turn, and prints what it measured as one JSON object a line. */
import { closePool } from "@/server/db/pool";
import { bandRedraw } from "./band-redraw";
import { batches } from "./batches";
import { checkpointCost } from "./checkpoint-cost";
import { cliStart } from "./cli-start";
import { denoise } from "./denoise";
import { encode } from "./encode";
import { estimate } from "./estimate";
import { estimateAgainstRun } from "./estimate-against-run";
import { deepCheckMemory, exrCheck } from "./exr-check";
import { browserCheck } from "./browser-check";
import { playback } from "./playback";
import { takeIn } from "./take-in";
import { findings } from "./findings";
import { firstPage } from "./first-page";
import { arraySubmit } from "./array-submit";
import { farm } from "./farm";
import { idle } from "./idle";
import { frameSets } from "./frame-sets";
import { ledger } from "./ledger";
import type { Measured } from "./measured";
import { messes } from "./messes";
import { planKeystroke } from "./plan-keystroke";
import { deepCheck, pngCheck, pngCheckTwoCores } from "./png-check";
import { queue } from "./queue";
import { livePage } from "./live-page";
import { manyNodes } from "./many-nodes";
import { queueOverhead } from "./queue-overhead";
import { queueScale } from "./queue-scale";
import { rays } from "./rays";
import { scale } from "./scale";
import { rebuild } from "./rebuild";
import { takeover } from "./takeover";

const home = process.env.PLAIN_TALLY_HOME!;

const BENCHES: Readonly<Record<string, () => Measured | Promise<Measured>>> = {
  "frame-sets": frameSets,
  "png-check": pngCheck,
  "png-check-two-cores": pngCheckTwoCores,
  "deep-check": deepCheck,
  "exr-check": exrCheck,
  "deep-check-memory": deepCheckMemory,
  messes,
  findings,
  encode: () => encode(home),
  "take-in": takeIn,
  "browser-check": () => browserCheck(home),
  playback: () => playback(home),
  "band-redraw": () => bandRedraw(home),
  queue: () => queue(home, process.env.PLAIN_TALLY_DATABASE_URL!),
  "queue-overhead": () => queueOverhead(home, process.env.PLAIN_TALLY_DATABASE_URL!),
  "many-nodes": () => manyNodes(home, process.env.PLAIN_TALLY_DATABASE_URL!),
  "queue-scale": () => queueScale(home, process.env.PLAIN_TALLY_DATABASE_URL!),
  "farm-1000": () => farm(home, process.env.PLAIN_TALLY_DATABASE_URL!),
  rebuild: () => rebuild(home),
  takeover: () => takeover(home),
  idle: () => idle(home),
  "array-submit": () => arraySubmit(home),
  batches: () => batches(home),
  rays: () => rays(home),
  estimate,
  "plan-keystroke": planKeystroke,
  denoise: () => denoise(home),
  "checkpoint-cost": () => checkpointCost(home),
  "estimate-against-run": () => estimateAgainstRun(home),
  "cli-start": () => cliStart(home),
  "first-page": () => firstPage(home),
  "live-page": () => livePage(home),
  ledger: () => ledger(home),
  scale: () => scale(home),
};

async function main(names: readonly string[]): Promise<void> {
  for (const name of names) process.stdout.write(`${JSON.stringify(await BENCHES[name]!())}\n`);
}

main(process.argv.slice(2))
  .catch((error: Error) => {
    process.stderr.write(`${error.stack}\n`);
    process.exitCode = 1;
  })
  // One that failed may have left it open, and would never end.
  .finally(closePool);
