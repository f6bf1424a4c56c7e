// npm run pack: one archive with all that a machine needs beside Node.js: built pages, programs, the packages that they use
// and native parts for Linux on x64. `npm install -g ARCHIVE` puts the command in place; unpacked by tar it runs where it
// lies. Nothing of it is built, compiled or fetched there. The archive's path is the last line.
//
//   --try   installs and uses it in a bare Debian tree without a network (as root; needs Debian's packages)
import { execFileSync } from "node:child_process";
import fs from "node:fs";
import path from "node:path";
import { parseArgs } from "node:util";
import { tryInBareTree } from "./lib/bare-tree.mjs";
import { bundle } from "./lib/bundle.mjs";
import { usedFiles } from "./lib/used-files.mjs";
import { ensureBuild, ensurePackages, requireNode } from "./lib/prepare.mjs";
import { run, step, Stop } from "./lib/steps.mjs";

const home = path.dirname(import.meta.dirname);
const ARCHITECTURE = "linux-x64";

/** Beside what is built: the command, what starts the house, its schema, and scenes to try it with. */
const SHIPPED = [
  "bin",
  "db",
  "scripts/start.mjs",
  "scripts/pages.mjs",
  "scripts/lib/certificate.mjs",
  "scripts/lib/house.mjs",
  "scripts/lib/mariadb.mjs",
  "scripts/lib/prepare.mjs",
  "scripts/lib/process-identity.mjs",
  "scripts/lib/steps.mjs",
  "scripts/lib/tls-front.mjs",
  "src/demo/scenes",
  "package.json",
  "README.md",
  "CHANGELOG.md",
  "docs",
];
/** Of the built pages: neither what the next build would be quicker by, nor what only a debugger reads. */
const NOT_OF_PAGES = /^(cache|types|diagnostics|trace.*|dev)(\/|$)|\.(map|nft\.json)$/;

/** The commit, and whether something stands beside it that no commit has. */
function commit() {
  const git = (...args) => execFileSync("git", args, { cwd: home, encoding: "utf8" }).trim();
  try {
    return git("rev-parse", "--short=10", "HEAD") + (git("status", "--porcelain") === "" ? "" : "-changed");
  } catch {
    return "unknown";
  }
}

/** @param {string} from @param {string} to @param {(place: string) => boolean} [isWanted] of places below `from` */
function copyTree(from, to, isWanted = () => true) {
  fs.cpSync(from, to, {
    recursive: true,
    // A link would lead out of the archive, and npm leaves links out.
    dereference: true,
    filter: (source) => isWanted(path.relative(from, source)),
  });
}

const { values } = parseArgs({ options: { try: { type: "boolean", default: false } } });
requireNode();
if (process.platform !== "linux" || process.arch !== "x64")
  throw new Stop(`An archive is made on ${ARCHITECTURE}; this is ${process.platform}-${process.arch}.`);
await ensurePackages(home);
await ensureBuild(home);

const { version } = JSON.parse(fs.readFileSync(path.join(home, "package.json"), "utf8"));
const place = path.join(home, "var/pack");
const top = path.join(place, "package");
const app = path.join(top, "app");
fs.rmSync(place, { recursive: true, force: true });
fs.mkdirSync(app, { recursive: true });

step("Collecting programs and pages");
for (const shipped of SHIPPED) copyTree(path.join(home, shipped), path.join(app, shipped));
// Made anew: the folder of a checkout holds pieces of earlier builds, too.
await bundle(home, { outdir: path.join(app, "dist"), sourcemap: false });
copyTree(
  path.join(home, ".next"),
  path.join(app, ".next"),
  (at) => at === "" || (!NOT_OF_PAGES.test(at) && !at.startsWith("node_modules")),
);

step("Collecting the packages that they use");
const used = await usedFiles(home);
for (const file of used) {
  const to = path.join(app, file);
  fs.mkdirSync(path.dirname(to), { recursive: true });
  fs.copyFileSync(path.join(home, file), to);
}
// Names that the pages know packages by, which a build makes as links.
const links = path.join(home, ".next/node_modules");
for (const name of fs.existsSync(links) ? fs.readdirSync(links) : []) {
  const target = path.relative(home, fs.realpathSync(path.join(links, name)));
  copyTree(path.join(app, target), path.join(app, ".next/node_modules", name));
}

const made = { version, commit: commit(), architecture: ARCHITECTURE };
fs.writeFileSync(path.join(app, "packed.json"), `${JSON.stringify(made, null, 2)}\n`);
fs.writeFileSync(
  path.join(top, "package.json"),
  `${JSON.stringify(
    {
      name: "plain-tally",
      version,
      description: "Plans and runs frame-range renders and keeps the tally of their frames.",
      license: "MIT",
      os: ["linux"],
      cpu: ["x64"],
      engines: { node: ">=20.15" },
      bin: { "plain-tally": "app/bin/plain-tally.mjs" },
    },
    null,
    2,
  )}\n`,
);
fs.copyFileSync(path.join(home, "README.md"), path.join(top, "README.md"));

step("Packing");
const archive = path.join(place, `plain-tally-${version}-${ARCHITECTURE}.tgz`);
await run("tar", [
  "--sort=name",
  "--owner=0",
  "--group=0",
  "--numeric-owner",
  "-czf",
  archive,
  "-C",
  place,
  "package",
]);
fs.rmSync(top, { recursive: true });
step(`${(fs.statSync(archive).size / 1e6).toFixed(1)} MB, ${used.length} files of packages`);
if (values.try) await tryInBareTree(archive, version);
process.stdout.write(`${archive}\n`);
