// What a person does first with an installed archive, from an empty start; ends with a failure at the first thing that is not
// so. It runs inside the bare tree and has nothing but Node.js.
import { spawn, spawnSync } from "node:child_process";
import fs from "node:fs";
import os from "node:os";
import path from "node:path";
import { setTimeout as pause } from "node:timers/promises";

const [, , version] = process.argv;
const PORT = 4555;
const FRAMES = 3;

function require(is, what) {
  if (!is) throw new Error(`Not so: ${what}`);
  process.stdout.write(`    ${what}\n`);
}

/** @param {string[]} args */
const tally = (...args) => tallyAs({}, ...args);

/** @param {Record<string, string>} env of another machine @param {string[]} args */
function tallyAs(env, ...args) {
  const ended = spawnSync("plain-tally", args, { encoding: "utf8", env: { ...process.env, ...env } });
  if (ended.status !== 0)
    throw new Error(
      `plain-tally ${args.join(" ")} ended with ${ended.status}: ${ended.stdout}${ended.stderr}`,
    );
  return ended.stdout;
}

async function until(what, is) {
  for (let i = 0; i < 600; i++) {
    if (await is()) return require(true, what);
    if (hasEnded) throw new Error(`The house ended before: ${what}`);
    await pause(200);
  }
  throw new Error(`Not so after two minutes: ${what}`);
}

const home = os.homedir();
require(process.getuid() !== 0, "it is tried by a person who is not root");
require(fs.readdirSync(home).length === 0, "nothing is there before");
require(tally("frames", "1-9/2", "--json").includes("5"), "a command works without a database");

const house = spawn(
  "plain-tally",
  ["start", "--port", String(PORT), "--nodes", "1", "--listen", "127.0.0.2"],
  { stdio: "inherit" },
);
const over = new Promise((resolve) => house.once("exit", resolve));
let hasEnded = false;
void over.then(() => (hasEnded = true));
const address = `http://127.0.0.1:${PORT}`;
const page = (place) => fetch(`${address}${place}`).catch(() => null);
await until("the pages answer", async () => (await page("/api/health"))?.ok === true);
const first = await (await page("/")).text();
require(first.includes("Plain Tally"), "the first page is there");
for (const asset of [...first.matchAll(/\/_next\/static\/[^"'\\]+\.(?:js|css)/g)].map(([at]) => at))
  if ((await page(asset))?.ok !== true) throw new Error(`${asset} is missing`);
require(first.includes("/_next/static/"), "with all its scripts");

tally("project", "add", "my-film");
const folder = path.join(home, ".local/share/plain-tally/frames/my-film");
require(fs.existsSync(folder), "what is kept lies where the person's other data does");
fs.cpSync(
  path.join(path.dirname(fs.realpathSync("/usr/bin/plain-tally")), "../src/demo/scenes"),
  path.join(folder, "scenes"),
  {
    recursive: true,
  },
);
tally("shot", "add", "MF010", "--scene", "scenes/hl030.json", "--frames", `1-${FRAMES}`);
tally("plan", "MF010", "--set", "width=160", "--set", "height=90", "--set", "samples=2");
tally("run", "MF010", "--wait");
const { results } = JSON.parse(tally("status", "MF010", "--json"));
require(results.good === FRAMES, `${FRAMES} frames are rendered by its node, and good`);
const frames = fs
  .readdirSync(folder, { recursive: true })
  .filter((name) => /beauty[/\\][^/\\]+\.png$/.test(name))
  .map((name) => path.join(folder, name));
tally("check", ...frames, "--deep", "--odd", "--json");
require(frames.length === FRAMES, "they unpack to their last pixel, and are measured");
const picture = await page("/p/my-film/shots/MF010");
require(picture?.ok === true, "the shot's page is there");
const far = { PLAIN_TALLY_PLACE: path.join(home, "far") };
const line = tally("invite", "--name", "far-1", "--root", `frames=${path.dirname(folder)}`).trim();
tallyAs(far, ...line.split(" ").slice(1), "--no-node");
const node = spawn("plain-tally", ["node"], { stdio: "inherit", env: { ...process.env, ...far } });
const nodeOver = new Promise((resolve) => node.once("exit", resolve));
await until("a node that was invited is at work", () =>
  tally("invite", "--json").includes('"state":"joined"'),
);
tally("run", "MF010", "--policy", "all", "--nodes", "far-1", "--wait");
require(JSON.parse(tally("status", "MF010", "--json")).results.good === FRAMES, "it renders, over TLS");
tally("revoke", "far-1");
require((await nodeOver) === 3, "its key is taken away, and it ends");
require(JSON.parse(tally("about", "--json")).version === version, `it says that it is ${version}`);
house.kill("SIGTERM");
require((await over) === 0, "told to end, it ends");
