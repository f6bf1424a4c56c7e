// npm run cluster: a Slurm of our own on loopback, until Ctrl-C, to try what a compute room does.
import path from "node:path";
import { parseArgs } from "node:util";
import { ensurePackages, ensurePrograms, requireNode, SLURM } from "./lib/prepare.mjs";
import { startSlurm } from "./lib/slurm.mjs";
import { step, Stop } from "./lib/steps.mjs";

const home = path.dirname(import.meta.dirname);
/** More than a desk has processors for. */
const MOST = 64;

async function main() {
  const { values } = parseArgs({ options: { machines: { type: "string", default: "2" } } });
  const count = Number(values.machines);
  if (!Number.isInteger(count) || count < 1 || count > MOST)
    throw new Stop(`--machines must be a whole number from 1 to ${MOST}; it is "${values.machines}".`);
  requireNode();
  await ensurePrograms(SLURM);
  await ensurePackages(home);
  const folder = path.join(home, "var/cluster");
  const slurm = await startSlurm(
    folder,
    Array.from({ length: count }, (_, i) => `lamp-${i + 1}`),
  );
  const cluster = JSON.stringify({ cluster: { settings: slurm.settings } });
  step(`${count} machines are there: sinfo and squeue show them with SLURM_CONF=${slurm.settings}`);
  step(`Put this into plain-tally.config.json beside what is in it: ${cluster}`);
  step("Then: plain-tally cluster send RUN. Ctrl-C ends the machines, and what they have in work is saved.");
  const over = new Promise((resolve) => {
    for (const signal of ["SIGINT", "SIGTERM"]) process.once(signal, resolve);
  });
  await over;
  step("Ending");
  await slurm.end();
}

main().catch((error) => {
  process.stderr.write(`${error instanceof Stop ? error.message : (error.stack ?? error)}\n`);
  process.exitCode = 1;
});
