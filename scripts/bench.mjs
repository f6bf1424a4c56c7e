// npm run bench: measures against yardsticks of the same run, prints a table and writes docs/benchmarks.md.
// npm run bench -- --only NAME --json prints one object. Each benchmark runs in a process of its own.
import fs from "node:fs";
import os from "node:os";
import path from "node:path";
import { parseArgs } from "node:util";
import {
  CHROMIUM,
  ensureBuild,
  ensurePackages,
  ensurePrograms,
  MARIADB,
  PNGCHECK,
  READERS,
  SLURM,
  requireNode,
} from "./lib/prepare.mjs";
import { run, step, Stop } from "./lib/steps.mjs";

const home = path.dirname(import.meta.dirname);
const NEEDS = {
  "frame-sets": [],
  "png-check": PNGCHECK,
  "png-check-two-cores": PNGCHECK,
  "deep-check": PNGCHECK,
  messes: [],
  findings: [],
  "exr-check": READERS,
  "deep-check-memory": READERS,
  encode: [...MARIADB, ...READERS],
  "take-in": [],
  "browser-check": [...MARIADB, ...CHROMIUM],
  playback: [...MARIADB, ...CHROMIUM],
  rebuild: MARIADB,
  "band-redraw": CHROMIUM,
  queue: MARIADB,
  "queue-overhead": MARIADB,
  "many-nodes": MARIADB,
  "queue-scale": MARIADB,
  "farm-1000": MARIADB,
  takeover: MARIADB,
  idle: MARIADB,
  "array-submit": [...MARIADB, ...SLURM],
  batches: MARIADB,
  rays: [],
  estimate: [],
  "plan-keystroke": [],
  denoise: [],
  "checkpoint-cost": [],
  "estimate-against-run": MARIADB,
  "cli-start": [],
  "first-page": MARIADB,
  "live-page": [...MARIADB, ...CHROMIUM],
  ledger: [...MARIADB, ...CHROMIUM],
  scale: [...MARIADB, ...CHROMIUM],
};

/** These run what was built. */
const BUILT = [
  "idle",
  "browser-check",
  "playback",
  "encode",
  "estimate-against-run",
  "takeover",
  "batches",
  "cli-start",
  "first-page",
  "live-page",
  "ledger",
  "scale",
];

async function build() {
  const { build: bundle } = await import("esbuild");
  const shared = { absWorkingDir: home, bundle: true, logLevel: /** @type {const} */ ("warning") };
  await bundle({
    ...shared,
    entryPoints: ["bench/main.ts"],
    outfile: "var/build/bench/main.mjs",
    platform: "node",
    format: "esm",
    target: "node20",
    packages: "external",
  });
  await bundle({
    ...shared,
    entryPoints: ["bench/band-page.ts"],
    outfile: "var/build/bench/band-page.js",
    platform: "browser",
    format: "iife",
    target: "es2022",
    minify: true,
  });
}

/** @param {string} name @returns {Promise<import("../bench/measured").Measured>} */
async function measure(name) {
  const folder = path.join(home, "var/bench");
  let database = null;
  try {
    if (MARIADB.every((program) => NEEDS[name].includes(program))) {
      fs.rmSync(folder, { recursive: true, force: true });
      const { MOST_CONNECTIONS, startMariadb } = await import("./lib/mariadb.mjs");
      database = await startMariadb(folder, { anySchema: true, connections: MOST_CONNECTIONS });
    }
    return JSON.parse(
      await run(process.execPath, ["var/build/bench/main.mjs", name], {
        cwd: home,
        env: {
          PLAIN_TALLY_HOME: home,
          NODE_ENV: "production",
          ...(database === null ? {} : { PLAIN_TALLY_DATABASE_URL: database.url }),
        },
      }),
    );
  } finally {
    await database?.stop();
    fs.rmSync(folder, { recursive: true, force: true });
  }
}

const figure = (value) => value.toLocaleString("en", { maximumSignificantDigits: 4 });

function table(measured) {
  const machine = `${os.cpus().length} cores (${os.cpus()[0].model.trim()}), Node.js ${process.versions.node}, ${new Date().toISOString().slice(0, 10)}`;
  return [
    "# Benchmarks",
    "",
    `Written by \`npm run bench\` on ${machine}. The machine is shared and noisy: what counts is the ratio to the yardstick, which was measured in the same run.`,
    "",
    "| name | measured | yardstick | ratio | goal | holds |",
    "| --- | --- | --- | --- | --- | --- |",
    ...measured.map(
      (m) =>
        `| ${m.name} | ${figure(m.value)} ${m.unit} | ${figure(m.yardstick)} ${m.unit} | ${figure(m.ratio)} | ${m.goal} | ${m.holds ? "yes" : "**no**"} |`,
    ),
    "",
  ].join("\n");
}

async function main() {
  const { values } = parseArgs({
    options: { only: { type: "string" }, json: { type: "boolean", default: false } },
  });
  const names = values.only === undefined ? Object.keys(NEEDS) : [values.only];
  for (const name of names)
    if (!(name in NEEDS))
      throw new Stop(`There is no benchmark "${name}"; there are ${Object.keys(NEEDS).join(", ")}.`);
  // With --json standard output is the one object; what goes on is told on standard error.
  const tell = values.json ? (text) => process.stderr.write(`${text}\n`) : step;
  requireNode();
  await ensurePrograms(names.flatMap((name) => NEEDS[name]));
  await ensurePackages(home);
  if (names.some((name) => BUILT.includes(name))) await ensureBuild(home);
  await build();
  const measured = [];
  for (const name of names) {
    tell(`Measuring ${name}`);
    measured.push(await measure(name));
  }
  if (values.json) for (const m of measured) process.stdout.write(`${JSON.stringify(m)}\n`);
  else {
    process.stdout.write(`\n${table(measured)}`);
    if (values.only === undefined) fs.writeFileSync(path.join(home, "docs/benchmarks.md"), table(measured));
  }
  process.exitCode = measured.every((m) => m.holds) ? 0 : 1;
}

main().catch((error) => {
  process.stderr.write(`\n${error instanceof Stop ? error.message : error.stack}\n`);
  process.exitCode = 1;
});
