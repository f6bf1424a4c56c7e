// Which files of node_modules the built programs and pages read when they run.
import fs from "node:fs";
import { createRequire } from "node:module";
import path from "node:path";

/** Programs, and what serves the pages. */
const BEGINNINGS = [
  "dist/plain-tally.mjs",
  "dist/engine-child.mjs",
  "dist/viewer-picture-worker.mjs",
  "dist/look-at-file-worker.mjs",
  "dist/seen-picture-worker.mjs",
  "scripts/lib/certificate.mjs",
  "node_modules/next/dist/server/next.js",
  "node_modules/next/dist/server/lib/start-server.js",
];
/** Read by name, so that no import tells of them. */
const BY_NAME = [
  "node_modules/lerc/lerc-wasm.wasm",
  "node_modules/@fontsource/atkinson-hyperlegible-mono",
  "node_modules/sharp/package.json",
];
/** Compilers: what is built is built. */
const NOT_USED = /^node_modules\/@next\/swc-|^node_modules\/(typescript|esbuild|@swc\/core)/;

/** What each page was found to need when it was built. @param {string} home @returns {string[]} */
function filesOfPages(home) {
  const found = [];
  const pages = path.join(home, ".next");
  for (const name of fs.readdirSync(pages, { recursive: true })) {
    if (!name.endsWith(".nft.json") || name.startsWith("cache")) continue;
    const trace = path.join(pages, name);
    for (const file of JSON.parse(fs.readFileSync(trace, "utf8")).files)
      found.push(path.relative(home, path.resolve(path.dirname(trace), file)));
  }
  return found;
}

/** @param {string} home @returns {Promise<string[]>} files below node_modules, relative to `home`, each once */
export async function usedFiles(home) {
  const require = createRequire(path.join(home, "package.json"));
  const { nodeFileTrace } = require("next/dist/compiled/@vercel/nft");
  const { fileList } = await nodeFileTrace(
    BEGINNINGS.map((file) => path.join(home, file)),
    { base: home },
  );
  const named = BY_NAME.flatMap((place) =>
    fs.statSync(path.join(home, place)).isDirectory()
      ? fs.readdirSync(path.join(home, place), { recursive: true }).map((file) => path.join(place, file))
      : [place],
  );
  const real = (file) => path.relative(home, fs.realpathSync(path.join(home, file)));
  const files = [...fileList, ...filesOfPages(home), ...named]
    .filter((file) => fs.existsSync(path.join(home, file)))
    .map(real)
    .filter((file) => file.startsWith("node_modules/") && !NOT_USED.test(file))
    .filter((file) => fs.statSync(path.join(home, file)).isFile());
  return [...new Set(files)].sort();
}
