// npm run demo: from a bare checkout to a running "Harbour Lights". Ctrl-C ends all of it.
import fs from "node:fs";
import path from "node:path";
import { parseArgs } from "node:util";
import { House, readPort } from "./lib/house.mjs";
import { ensureBuild } from "./lib/prepare.mjs";
import { step, Stop } from "./lib/steps.mjs";

const home = path.dirname(import.meta.dirname);

/** The three stand-in nodes; their faults only for a demo that begins. */
const NODES = [
  { name: "quay-1", faults: [] },
  { name: "quay-2", faults: ["--die-in-frame", "9", "--slow", "1.4"] },
  { name: "mole-1", faults: ["--unproven", "--hide", "textures/tower.png:6"] },
];

function readOptions() {
  try {
    const { values } = parseArgs({
      options: { port: { type: "string" }, fresh: { type: "boolean", default: false } },
    });
    return { port: readPort(values.port), fresh: values.fresh };
  } catch (error) {
    throw error instanceof Stop
      ? error
      : new Stop(`${error.message}\nUsage: npm run demo -- [--port N] [--fresh]`);
  }
}

/**
 * A new database and an empty folder for frames. Frames are never removed: those of before stay beside it.
 */
function startOver() {
  const frames = path.join(house.data, "frames");
  const before = path.join(house.data, "frames-before");
  for (const place of ["mariadb", "log"])
    fs.rmSync(path.join(house.data, place), { recursive: true, force: true });
  if (!fs.existsSync(frames) || fs.readdirSync(frames).length === 0) {
    step("Starting over: clearing the demo's database");
    return;
  }
  const place = path.join(before, new Date().toISOString().slice(0, 19).replaceAll(":", "-"));
  fs.mkdirSync(before, { recursive: true });
  fs.renameSync(frames, place);
  step(`Starting over: the database is cleared; the frames of before are in ${path.relative(home, place)}`);
}

const house = new House(home, "demo");
house.live(async () => {
  const options = readOptions();
  await house.prepare(options.port);
  await ensureBuild(home);
  if (options.fresh) startOver();
  await house.open(options.port);
  await house.migrate();
  house.startPages("start", options.port);
  const seeded = JSON.parse(await house.run(["dist/demo.mjs", "seed"]));
  if (seeded.fresh) step('Made the project "Harbour Lights"');
  await house.pagesReady();
  if (house.stopping) return;
  for (const { name, faults } of NODES) house.startNode(name, seeded.messed ? [] : faults);
  if (!seeded.messed)
    house.start("mess", ["dist/demo.mjs", "mess"], {}, (code) =>
      step(
        code === 0
          ? "HL010 is rendered, and the harbour's mischief has been at its files"
          : `The mischief on HL010's files failed; see ${house.logFile("mess")}`,
      ),
    );
  step(`Nodes ${NODES.map((n) => n.name).join(", ")} at work`);
  process.stdout.write(
    `\n    Plain Tally is at  ${house.address}\n\n    Ctrl-C ends it. Logs and frames are in ${path.relative(process.cwd(), house.data)}.\n\n`,
  );
});
