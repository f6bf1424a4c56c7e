// npm run seed -- --frames 100000 | --shots 500 | --scale large: makes a large project for trying, in the house that runs
// (npm run demo or npm run dev).
import fs from "node:fs";
import path from "node:path";
import { parseArgs } from "node:util";
import { dataFolder } from "./lib/house.mjs";
import { ensureBuild } from "./lib/prepare.mjs";
import { run, step, Stop } from "./lib/steps.mjs";

const USAGE =
  "Usage: npm run seed -- --frames N | --shots N | --scale large   (1 to 1,000,000 frames, 1 to 5,000 shots; large: 500 shots, 2 million frames, 40 nodes)";
const MOST = { frames: 1_000_000, shots: 5_000 };
const home = path.dirname(import.meta.dirname);

/** @param {"frames" | "shots"} name @param {string | undefined} text */
function readCount(name, text) {
  if (text === undefined) return null;
  const count = Number(text);
  if (!Number.isInteger(count) || count < 1 || count > MOST[name])
    throw new Stop(`--${name} must be a whole number from 1 to ${MOST[name]}; it is "${text}".\n${USAGE}`);
  return count;
}

function readOptions() {
  try {
    const text = { type: /** @type {const} */ ("string") };
    const { values } = parseArgs({ options: { frames: text, shots: text, scale: text } });
    const isLarge = values.scale === "large";
    const wish = {
      frames: readCount("frames", values.frames),
      shots: readCount("shots", values.shots),
      isLarge,
    };
    if (values.scale !== undefined && !isLarge) throw new Stop(USAGE);
    if (wish.frames === null && wish.shots === null && !isLarge) throw new Stop(USAGE);
    return wish;
  } catch (error) {
    throw error instanceof Stop ? error : new Stop(`${error.message}\n${USAGE}`);
  }
}

async function main() {
  const { frames, shots, isLarge } = readOptions();
  const stateFile = path.join(dataFolder(home), "run/state.json");
  if (!fs.existsSync(stateFile))
    throw new Stop("Nothing of this checkout runs: start it with `npm run demo` or `npm run dev` first.");
  const { databaseUrl, address } = JSON.parse(fs.readFileSync(stateFile, "utf8"));
  await ensureBuild(home);
  const demo = (...args) =>
    run(process.execPath, ["dist/demo.mjs", ...args], {
      cwd: home,
      env: { PLAIN_TALLY_HOME: home, PLAIN_TALLY_DATABASE_URL: databaseUrl },
    });
  if (isLarge) {
    step("Making 500 shots and the tally of 2 million frames; this takes some minutes");
    await demo("scale");
    step(
      `Made, at ${address}/p/wide-sea. Its folder is out of sight on purpose: nobody looks for its files.`,
    );
  }
  if (frames === null && shots === null) return;
  const made = JSON.parse(await demo("large", String(frames ?? "-"), String(shots ?? "-")));
  step(`${made.length} shot${made.length === 1 ? "" : "s"} made, at ${address}/p/open-sea`);
}

main().catch((error) => {
  process.stderr.write(`${error instanceof Stop ? error.message : error.stack}\n`);
  process.exitCode = 1;
});
