// Tries an archive where nothing else is: in a Debian tree made by debootstrap that has Node.js and the private database's
// programs, with no network but its own loopback, by a person who is not root.
import fs from "node:fs";
import os from "node:os";
import path from "node:path";
import { ensurePrograms, findProgram, MARIADB } from "./prepare.mjs";
import { run, step, Stop } from "./steps.mjs";

const BARE = [
  { program: "debootstrap", package: "debootstrap" },
  { program: "unshare", package: "util-linux" },
  { program: "ip", package: "iproute2" },
];
const SUITE = "bookworm";
const PERSON = 1000;

/** Node.js and npm of this machine: what a person would have put there before. @param {string} tree */
function bringNode(tree) {
  const node = fs.realpathSync(process.execPath);
  const npm = path.resolve(fs.realpathSync(findProgram("npm") ?? "/usr/bin/npm"), "../..");
  fs.copyFileSync(node, path.join(tree, "usr/bin/node"));
  fs.cpSync(npm, path.join(tree, "usr/lib/node_modules/npm"), { recursive: true });
  fs.symlinkSync("../lib/node_modules/npm/bin/npm-cli.js", path.join(tree, "usr/bin/npm"));
}

/** @param {string} archive @param {string} version that it says it is */
export async function tryInBareTree(archive, version) {
  if (process.getuid?.() !== 0) throw new Stop("A Debian tree of its own is made by root alone.");
  await ensurePrograms(BARE);
  const folder = fs.mkdtempSync(path.join(os.tmpdir(), "plain-tally-bare-"));
  const tree = path.join(folder, "tree");
  // What stands in the tree's own /proc goes with its processes, and so does what was mounted.
  const inTree = (script, user) =>
    run(
      findProgram("unshare"),
      [
        "--net",
        "--pid",
        "--fork",
        "--kill-child",
        "--mount",
        "sh",
        "-c",
        [
          `mount -t proc proc ${tree}/proc`,
          "ip link set lo up",
          `exec chroot --userspec=${user} ${tree} /usr/bin/env -i PATH=/usr/bin:/usr/sbin:/bin:/sbin HOME=${user === 0 ? "/root" : "/home/mara"} sh -ec '${script}'`,
        ].join(" && "),
      ],
      { show: true },
    );
  try {
    step(`Making a bare Debian tree (${SUITE})`);
    const packages = [...new Set(MARIADB.map((one) => one.package))].join(",");
    await run(findProgram("debootstrap"), ["--variant=minbase", `--include=${packages}`, SUITE, tree]);
    bringNode(tree);
    fs.copyFileSync(archive, path.join(tree, "archive.tgz"));
    fs.copyFileSync(path.join(import.meta.dirname, "bare-tree-trial.mjs"), path.join(tree, "trial.mjs"));
    fs.mkdirSync(path.join(tree, "home/mara"), { recursive: true });
    fs.chownSync(path.join(tree, "home/mara"), PERSON, PERSON);
    step("Installing the archive there, without a network");
    await inTree("npm install --global --offline --no-audit --no-fund /archive.tgz", 0);
    await inTree(`cd && node /trial.mjs ${version}`, PERSON);
  } finally {
    fs.rmSync(folder, { recursive: true, force: true });
  }
}
