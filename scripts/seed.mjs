// npm run seed -- --frames 100000 | --shots 500: makes a large project for trying, in the house that runs
// (npm run demo or npm run dev).
import fs from "node:fs";
import path from "node:path";
import { parseArgs } from "node:util";
import { dataFolder } from "./lib/house.mjs";
import { ensureBuild } from "./lib/prepare.mjs";
import { run, step, Stop } from "./lib/steps.mjs";

const USAGE = "Usage: npm run seed -- --frames N | --shots N   (1 to 1,000,000 frames, 1 to 5,000 shots)";
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
    const { values } = parseArgs({ options: { frames: { type: "string" }, shots: { type: "string" } } });
    const wish = { frames: readCount("frames", values.frames), shots: readCount("shots", values.shots) };
    if (wish.frames === null && wish.shots === null) throw new Stop(USAGE);
    return wish;
  } catch (error) {
    throw error instanceof Stop ? error : new Stop(`${error.message}\n${USAGE}`);
  }
}

async function main() {
  const { frames, shots } = readOptions();
  const stateFile = path.join(dataFolder(home), "run/state.json");
  if (!fs.existsSync(stateFile))
    throw new Stop("Nothing of this checkout runs: start it with `npm run demo` or `npm run dev` first.");
  const { databaseUrl, address } = JSON.parse(fs.readFileSync(stateFile, "utf8"));
  await ensureBuild(home);
  const made = JSON.parse(
    await run(process.execPath, ["dist/demo.mjs", "large", String(frames ?? "-"), String(shots ?? "-")], {
      cwd: home,
      env: {
        PLAIN_TALLY_HOME: home,
        PLAIN_TALLY_DATABASE_URL: databaseUrl,
      },
    }),
  );
  step(`${made.length} shot${made.length === 1 ? "" : "s"} made, at ${address}/p/open-sea`);
}

main().catch((error) => {
  process.stderr.write(`${error instanceof Stop ? error.message : error.stack}\n`);
  process.exitCode = 1;
});
