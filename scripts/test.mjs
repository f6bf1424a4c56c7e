// npm test: sets the machine up, then runs unit tests, integration tests on a private MariaDB, and the story
// in a real browser.
// `npm test -- unit integration e2e faults cluster` runs only the suites named. The last line sums what ran; a suite that
// ran no test fails.
import fs from "node:fs";
import path from "node:path";
import { spawn } from "node:child_process";
import {
  CHROMIUM,
  ensureBuild,
  ensurePackages,
  ensurePrograms,
  findProgram,
  MARIADB,
  NETWORKS,
  offerPrograms,
  READERS,
  requireNode,
  SLURM,
} from "./lib/prepare.mjs";
import { step, Stop } from "./lib/steps.mjs";

const home = path.dirname(import.meta.dirname);
const results = path.join(home, "var/test");

/** A runner that has written its results and is still there so long after is held by something that a test left open. */
const LINGER_MS = 60_000;

/**
 * Runs a test runner with its output shown. One that does not end after its tests is ended, told and failed:
 * waited for, it would cost the whole run and say nothing.
 * @param {string} report file that the runner writes when its tests are over
 * @returns {Promise<number>} exit code
 */
const show = (args, env, report) =>
  new Promise((resolve, reject) => {
    const child = spawn(process.execPath, args, {
      cwd: home,
      env: { ...process.env, PLAIN_TALLY_HOME: home, ...env },
      stdio: "inherit",
    });
    let lingersSince = null;
    const watch = setInterval(() => {
      if (!fs.existsSync(report)) return;
      lingersSince ??= Date.now();
      if (Date.now() - lingersSince < LINGER_MS) return;
      step(
        `${path.basename(report)}: the tests are over, and their runner does not end: a test left something open`,
      );
      child.kill("SIGKILL");
    }, 1000);
    child.on("error", reject);
    child.on("exit", (code) => {
      clearInterval(watch);
      resolve(code ?? 1);
    });
  });

/** @typedef {{ passed: number, failed: number }} Counts */

/** @param {string} suite @param {Record<string, string>} env @returns {Promise<Counts>} */
async function jest(suite, env = {}) {
  const file = path.join(results, `${suite}.json`);
  // Components are units in a browser's clothes: they need no machine either.
  const projects = suite === "unit" ? ["unit", "component"] : ["integration"];
  const where = suite === "unit" ? [] : ["--testPathPatterns", `tests/${suite}/`];
  const code = await show(
    [
      "node_modules/jest/bin/jest.js",
      "--selectProjects",
      ...projects,
      ...where,
      // Every processor: files of tests have databases and folders of their own, and wait for nodes most of the time. The
      // soak is alone: it is the machine that it tires.
      "--maxWorkers",
      suite === "faults" || suite === "cluster" ? "1" : "100%",
      "--json",
      `--outputFile=${file}`,
    ],
    env,
    file,
  );
  const {
    numPassedTests: passed,
    numFailedTests,
    numRuntimeErrorTestSuites,
  } = JSON.parse(fs.readFileSync(file, "utf8"));
  return { passed, failed: Math.max(numFailedTests + numRuntimeErrorTestSuites, code === 0 ? 0 : 1) };
}

/** @param {Record<string, string>} env @returns {Promise<Counts>} */
async function playwright(env) {
  const file = path.join(results, "e2e.json");
  const code = await show(
    ["node_modules/@playwright/test/cli.js", "test"],
    { ...env, PLAYWRIGHT_JSON_OUTPUT_NAME: file },
    file,
  );
  const { stats, errors } = JSON.parse(fs.readFileSync(file, "utf8"));
  return {
    passed: stats.expected,
    failed: Math.max(stats.unexpected + stats.flaky + errors.length, code === 0 ? 0 : 1),
  };
}

async function main() {
  const suites = ["unit", "integration", "e2e", "faults", "cluster"];
  const named = process.argv.slice(2);
  for (const name of named)
    if (!suites.includes(name))
      throw new Stop(`There is no suite "${name}"; there are ${suites.join(", ")}.`);
  const wanted = named.length > 0 ? named : suites;
  requireNode();
  const needsMachine = wanted.some((name) => name !== "unit");
  if (needsMachine) await ensurePrograms([...MARIADB, ...CHROMIUM, ...READERS, ...NETWORKS]);
  await ensurePackages(home);
  if (needsMachine) await ensureBuild(home);
  fs.rmSync(results, { recursive: true, force: true });
  fs.mkdirSync(results, { recursive: true });
  /** @type {Record<string, Counts>} */
  const counts = {};
  let database = null;
  try {
    if (wanted.includes("unit")) {
      step("Unit tests");
      counts.unit = await jest("unit");
    }
    if (needsMachine) {
      const { startMariadb } = await import("./lib/mariadb.mjs");
      database = await startMariadb(path.join(results, "mariadb"), { anySchema: true });
      const env = { PLAIN_TALLY_TEST_DATABASE: database.url };
      // Each waits for facts most of the time, and uses less than a core: side by side they take little longer than one.
      const browser = wanted.includes("e2e") ? playwright(env) : null;
      // What it fails with is said when it is waited for.
      browser?.catch(() => undefined);
      if (wanted.includes("integration")) {
        step("Integration tests on a private MariaDB");
        counts.integration = await jest("integration", env);
      }
      if (browser !== null) {
        step("The story in a real browser");
        counts.e2e = await browser;
      }
      if (wanted.includes("faults") || wanted.includes("cluster"))
        await offerPrograms(SLURM, "What a batch system does is not tested here: Slurm");
      if (wanted.includes("faults")) {
        // Alone: nodes and renderers that are too slow are what these are about.
        step("Real processes under faults");
        counts.faults = await jest("faults", env);
      }
      if (wanted.includes("cluster")) {
        if (SLURM.every(({ program }) => findProgram(program) !== null)) {
          step("A batch system of our own, and nodes that stay beside it");
          counts.cluster = await jest("cluster", env);
        }
      }
    }
  } finally {
    await database?.stop();
  }
  for (const [name, c] of Object.entries(counts)) {
    if (c.passed + c.failed === 0) c.failed = 1;
    step(`${name}: ${c.passed} passed, ${c.failed} failed`);
  }
  const sum = (key) => Object.values(counts).reduce((total, c) => total + c[key], 0);
  process.stdout.write(`${sum("passed")} passed, ${sum("failed")} failed\n`);
  process.exitCode = sum("failed") === 0 ? 0 : 1;
}

main().catch((error) => {
  process.stderr.write(`\n${error instanceof Stop ? error.message : error.stack}\n`);
  process.exitCode = 1;
});
