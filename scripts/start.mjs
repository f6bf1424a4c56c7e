// npm start, or plain-tally start: database, pages and a node of this machine, with what is there. The first time there is nothing, and
// the page says what to do. Ctrl-C ends all of it; started again it goes on.
import net from "node:net";
import os from "node:os";
import path from "node:path";
import { parseArgs } from "node:util";
import { cli, commandOf, House, isPacked, readPort } from "./lib/house.mjs";
import { fingerprint } from "./lib/certificate.mjs";
import { ensureBuild } from "./lib/prepare.mjs";
import { step, Stop } from "./lib/steps.mjs";

const home = path.dirname(import.meta.dirname);
const MOST_NODES = 64;
const USAGE = `Usage: ${commandOf(home, "start", "[--port N] [--root NAME=/folder ...] [--nodes N | --no-node] [--listen ADDRESS] [--host ADDRESS]")}

  --port N              where the pages are, 4310 unless it is said
  --root NAME=/folder   declares a folder for projects, once for always; may be given several times
  --nodes N             so many render nodes on this machine, which share its cores; 1
  --no-node             none: others render
  --listen ADDRESS      other machines may join: an address of this one, or 0.0.0.0 for all that it has; their nodes
                        reach the database at the port after that of the pages, over TLS, each with a key of its own
  --host ADDRESS        the pages are reached over the network, by TLS: whoever wants in signs in. PLAIN_TALLY_HOST says
                        the same`;

/** Letters and digits alone, as nodes are called. */
const machine = () =>
  os
    .hostname()
    .split(".")[0]
    .replace(/[^A-Za-z0-9_-]+/g, "-")
    .replace(/^[^A-Za-z0-9]+/, "")
    .slice(0, 50) || "this-machine";

/** @param {string} text @returns {[name: string, folder: string]} */
function readRoot(text) {
  const at = text.indexOf("=");
  if (at < 1) throw new Stop(`--root must be NAME=/folder; it is "${text}".\n${USAGE}`);
  return [text.slice(0, at), path.resolve(text.slice(at + 1))];
}

function readOptions() {
  let values;
  try {
    ({ values } = parseArgs({
      options: {
        port: { type: "string" },
        root: { type: "string", multiple: true, default: [] },
        nodes: { type: "string", default: "1" },
        "no-node": { type: "boolean", default: false },
        listen: { type: "string" },
        host: { type: "string" },
      },
    }));
  } catch (error) {
    throw new Stop(`${error.message}\n${USAGE}`);
  }
  const nodes = values["no-node"] ? 0 : Number(values.nodes);
  if (!Number.isInteger(nodes) || nodes < 0 || nodes > MOST_NODES)
    throw new Stop(`--nodes must be a number from 1 to ${MOST_NODES}; it is "${values.nodes}".\n${USAGE}`);
  const { listen = null, host = process.env.PLAIN_TALLY_HOST ?? null } = values;
  for (const [name, address] of Object.entries({ listen, host }))
    if (address !== null && net.isIP(address) === 0)
      throw new Stop(`--${name} must be an address such as 192.168.1.20; it is "${address}".\n${USAGE}`);
  return {
    port: readPort(values.port),
    roots: values.root.map(readRoot),
    nodes,
    // On loopback nothing is opened to anybody.
    beyond: { listen, host: host?.startsWith("127.0.0.1") ? null : host },
  };
}

const house = new House(home, "start");
house.live(async () => {
  const options = readOptions();
  await house.prepare(options.port, options.beyond);
  if (!isPacked(home)) await ensureBuild(home);
  for (const [name, folder] of options.roots) {
    await house.run(["bin/plain-tally.mjs", "root", "add", name, folder]);
    step(`Root ${name} is ${folder}`);
  }
  await house.open(options.port, options.beyond);
  await house.migrate();
  // Without anybody who has a key the door would stay shut for ever.
  const first =
    options.beyond.host === null ? "" : await house.run(["bin/plain-tally.mjs", "person", "first"]);
  house.startPages("start", options.port);
  await house.pagesReady();
  if (house.stopping) return;
  // One core stays for the person who sits there.
  const cores = Math.max(1, os.availableParallelism() - 1);
  const names = Array.from({ length: options.nodes }, (_, i) =>
    i === 0 ? machine() : `${machine()}-${i + 1}`,
  );
  const each = String(Math.max(1, Math.floor(cores / Math.max(1, names.length))));
  for (const name of names) house.startNode(name, [], ["--cores", each]);
  if (names.length > 0) step(`Node ${names.join(", ")} at work`);
  const door =
    house.front === null
      ? ""
      : `\n    Its certificate is its own; SHA-256 ${fingerprint(house.certificate.certificate)}`;
  const joining =
    options.beyond.listen === null
      ? ""
      : `\n\n    Other machines may join at ${options.beyond.listen}, port ${options.port + 1}: ${cli(home)} invite --name NAME`;
  const person = first === "" ? "" : `\n\n    ${first.trim()}`;
  process.stdout.write(
    `\n    Plain Tally is at  ${house.address}${door}${person}${joining}\n\n    Ctrl-C ends it; ${commandOf(home, "start")} goes on. What it keeps is in ${house.data}.\n\n`,
  );
});
