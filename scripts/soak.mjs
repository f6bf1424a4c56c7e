// npm run soak -- --faults 200 --seed 7 --json: real processes under injected faults; what must hold is in
// one object.
import path from "node:path";
import { parseArgs } from "node:util";
import {
  ensureBuild,
  ensurePackages,
  ensurePrograms,
  MARIADB,
  offerPrograms,
  requireNode,
  SLURM,
} from "./lib/prepare.mjs";
import { step, Stop } from "./lib/steps.mjs";

const home = path.dirname(import.meta.dirname);

/** @param {string} text @param {string} name */
function wholeNumber(text, name) {
  const number = Number(text);
  if (!Number.isInteger(number) || number < 1)
    throw new Stop(`--${name} must be a whole number from 1 up; it is "${text}".`);
  return number;
}

async function main() {
  const { values } = parseArgs({
    options: {
      faults: { type: "string", default: "60" },
      seed: { type: "string", default: "7" },
      json: { type: "boolean", default: false },
    },
  });
  const faults = wholeNumber(values.faults, "faults");
  const seed = wholeNumber(values.seed, "seed");
  // With --json standard output is the one object; what goes on is told on standard error.
  const tell = (/** @type {string} */ text) =>
    void (values.json ? process.stderr : process.stdout).write(`${text}\n`);
  requireNode();
  await ensurePrograms(MARIADB);
  await offerPrograms(SLURM, "Without a batch system: Slurm");
  await ensurePackages(home);
  await ensureBuild(home);
  const { build } = await import("esbuild");
  const outfile = path.join(home, "var/build/soak.mjs");
  await build({
    absWorkingDir: home,
    entryPoints: ["tests/faults/soak.ts"],
    outfile,
    bundle: true,
    platform: "node",
    format: "esm",
    target: "node20",
    packages: "external",
    logLevel: "warning",
  });
  process.env.PLAIN_TALLY_HOME = home;
  const { soak } = await import(outfile);
  const result = await soak({ faults, seed, tell });
  process.stdout.write(`${JSON.stringify(result)}\n`);
  process.exitCode = result.holds ? 0 : 1;
}

main().catch((error) => {
  process.stderr.write(`\n${error instanceof Stop ? error.message : error.stack}\n`);
  step("The soak did not come to its end.");
  process.exitCode = 1;
});
