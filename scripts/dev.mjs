// npm run dev: the same house as the demo's, for whoever changes it. Pages reload as they are saved;
// command line and nodes are built anew and the nodes started again. Ctrl-C ends all of it.
import path from "node:path";
import { parseArgs } from "node:util";
import { House, readPort } from "./lib/house.mjs";
import { step, Stop } from "./lib/steps.mjs";

const home = path.dirname(import.meta.dirname);
const NODES = ["quay-1"];

function readOptions() {
  try {
    const { values } = parseArgs({ options: { port: { type: "string" } } });
    return { port: readPort(values.port) };
  } catch (error) {
    throw error instanceof Stop ? error : new Stop(`${error.message}\nUsage: npm run dev -- [--port N]`);
  }
}

const house = new House(home, "dev");
house.live(async () => {
  const { port } = readOptions();
  await house.prepare(port);
  // Only now: a bare checkout has no bundler when this file is loaded.
  const { watchPrograms } = await import("./lib/bundle.mjs");
  let isUp = false;
  const restartNodes = async () => {
    for (const name of NODES) await house.restart(`node-${name}`, () => house.startNode(name));
    step(`Built the programs; ${NODES.join(", ")} started again`);
  };
  await watchPrograms(home, () => {
    if (isUp && !house.stopping) void restartNodes();
  });
  await house.open(port);
  await house.migrate();
  house.startPages("dev", port);
  const seeded = JSON.parse(await house.run(["dist/demo.mjs", "seed"]));
  if (seeded.fresh) step('Made the project "Harbour Lights"');
  await house.pagesReady();
  for (const name of NODES) house.startNode(name);
  isUp = true;
  process.stdout.write(
    `\n    Plain Tally is at  ${house.address}, and follows what you save\n\n    Ctrl-C ends it. Logs are in var/log.\n\n`,
  );
});
