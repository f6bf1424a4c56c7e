// Brings a bare checkout to where it can run: Debian packages, npm packages, build. Each part is skipped when
// nothing changed.
import crypto from "node:crypto";
import fs from "node:fs";
import path from "node:path";
import { run, step, Stop } from "./steps.mjs";

export const MARIADB = [
  { program: "mariadbd", package: "mariadb-server-core" },
  { program: "mariadb-install-db", package: "mariadb-server-core" },
  { program: "mariadb", package: "mariadb-client-core" },
];
/** Movies are made and read back by it; all else goes without. */
export const FFMPEG = [
  { program: "ffmpeg", package: "ffmpeg" },
  { program: "ffprobe", package: "ffmpeg" },
];
export const CHROMIUM = [{ program: "chromium", package: "chromium" }];
/** Programs of others that the tests read our files back with. */
export const READERS = [
  { program: "pngcheck", package: "pngcheck" },
  { program: "exrheader", package: "openexr" },
  { program: "tiffinfo", package: "libtiff-tools" },
  { program: "identify", package: "imagemagick" },
  // Its part that writes OpenEXR: without it a file of that name is a PNG.
  {
    program: "../lib/x86_64-linux-gnu/ImageMagick-6.9.11/modules-Q16/coders/exr.so",
    package: "libmagickcore-6.q16-6-extra",
  },
  ...FFMPEG,
];
/** Networks of their own for tests of nodes that share nothing else. */
export const NETWORKS = [
  { program: "ip", package: "iproute2" },
  { program: "tcpdump", package: "tcpdump" },
];
/** A batch system, for who wants to try one or work with one. */
export const SLURM = [
  { program: "munged", package: "munge" },
  { program: "slurmctld", package: "slurmctld" },
  { program: "slurmd", package: "slurmd" },
  { program: "sbatch", package: "slurm-client" },
];
export const PNGCHECK = [{ program: "pngcheck", package: "pngcheck" }];

const PLACES = [...(process.env.PATH ?? "").split(":"), "/usr/sbin", "/usr/bin"];

/** @param {string} program */
export const findProgram = (program) =>
  PLACES.map((place) => path.join(place, program)).find((file) => fs.existsSync(file)) ?? null;

/**
 * Installs the Debian packages whose programs are missing, as root; else says the one command to run. @param
 * {{ program: string, package: string }[]} wanted
 */
export async function ensurePrograms(wanted) {
  const missing = [...new Set(wanted.filter((w) => findProgram(w.program) === null).map((w) => w.package))];
  if (missing.length === 0) return;
  const install = `apt-get install -y --no-install-recommends ${missing.join(" ")}`;
  if (process.getuid?.() !== 0 || findProgram("apt-get") === null)
    throw new Stop(
      `${missing.join(", ")} missing. Run this once, then start again:\n\n    sudo sh -c "apt-get update && ${install}"\n`,
    );
  step(`Installing ${missing.join(", ")} (Debian)`);
  await run("apt-get", ["update", "-qq"]);
  await run("sh", ["-c", install], { env: { DEBIAN_FRONTEND: "noninteractive" } });
}

/** The same, of what not everybody needs: where it cannot be installed, that is said and no more. */
export async function offerPrograms(wanted, what) {
  await ensurePrograms(wanted).catch((error) => {
    step(`${what} needs a program that is not here. ${error.message.trim()}`);
  });
}

/** @param {string} file */
const hashFile = (file) => crypto.createHash("sha256").update(fs.readFileSync(file)).digest("hex");

/** @param {string} home @param {string[]} places */
function hashSources(home, places) {
  const hash = crypto.createHash("sha256");
  const walk = (place) => {
    const full = path.join(home, place);
    if (!fs.existsSync(full)) return;
    if (fs.statSync(full).isDirectory())
      for (const name of fs.readdirSync(full).sort()) walk(path.join(place, name));
    else if (!/\.test\.tsx?$/.test(place)) hash.update(`${place}\0${hashFile(full)}\0`);
  };
  for (const place of places) walk(place);
  return hash.digest("hex");
}

/** @param {string} file @param {string} stamp */
const isStamped = (file, stamp) => fs.existsSync(file) && fs.readFileSync(file, "utf8") === stamp;

/**
 * npm writes what it installed into node_modules once it is through; other platforms' optional packages are
 * not in it. @param {string} home
 */
function arePackagesInstalled(home) {
  const hidden = path.join(home, "node_modules/.package-lock.json");
  if (!fs.existsSync(hidden)) return false;
  const read = (file) => JSON.parse(fs.readFileSync(file, "utf8")).packages;
  const there = read(hidden);
  return Object.entries(read(path.join(home, "package-lock.json"))).every(
    ([place, wanted]) =>
      place === "" ||
      there[place]?.version === wanted.version ||
      (there[place] === undefined && wanted.optional === true),
  );
}

/** @param {string} home */
export async function ensurePackages(home) {
  if (arePackagesInstalled(home)) return;
  step("Installing packages (npm ci)");
  await run("npm", ["ci", "--no-audit", "--no-fund"], { cwd: home });
}

const SHARED = ["package-lock.json", "tsconfig.json", "src/core", "src/render", "src/contract", "src/server"];

/** The two builds: what each is made from, what it leaves, and how it is made. */
const BUILDS = [
  {
    name: "programs",
    what: "the command line and the nodes",
    sources: [...SHARED, "src/cli", "src/demo", "scripts/lib/bundle.mjs"],
    leaves: ["dist/plain-tally.mjs", "node_modules/.bin/plain-tally"],
    async make(home) {
      const { bundle } = await import("./bundle.mjs");
      await bundle(home);
    },
  },
  {
    name: "pages",
    what: "the pages (half a minute on a small machine)",
    sources: [...SHARED, "src/ui", "src/app", "src/instrumentation.ts", "src/proxy.ts", "next.config.mjs"],
    leaves: [".next/BUILD_ID"],
    make: (home) =>
      run(process.execPath, [path.join(home, "node_modules/next/dist/bin/next"), "build"], {
        cwd: home,
        env: { NEXT_TELEMETRY_DISABLED: "1", NODE_ENV: "production" },
      }),
  },
];

/** Builds the command line and the pages, each only when its sources changed. @param {string} home */
export async function ensureBuild(home) {
  for (const { name, what, sources, leaves, make } of BUILDS) {
    const stampFile = path.join(home, `var/build/${name}`);
    const stamp = hashSources(home, sources);
    if (isStamped(stampFile, stamp) && leaves.every((file) => fs.existsSync(path.join(home, file)))) continue;
    step(`Building ${what}`);
    fs.rmSync(stampFile, { force: true });
    await make(home);
    fs.mkdirSync(path.dirname(stampFile), { recursive: true });
    fs.writeFileSync(stampFile, stamp);
  }
}

export function requireNode() {
  const [major, minor] = process.versions.node.split(".").map(Number);
  if (major < 20 || (major === 20 && minor < 15))
    throw new Stop(`Node.js 20.15 or newer is needed; this is ${process.versions.node}.`);
}
