// The second build beside Next: command line, engine child, picture worker, demo and seed, each for Node.
import { build, context } from "esbuild";
import { mkdirSync, rmSync, symlinkSync } from "node:fs";
import { join } from "node:path";

/** @param {string} home @returns {import("esbuild").BuildOptions} */
const options = (home) => ({
  absWorkingDir: home,
  entryPoints: {
    "plain-tally": "src/cli/main.ts",
    "engine-child": "src/server/engines/child.ts",
    "viewer-picture-worker": "src/server/files/viewer-picture-worker.ts",
    "look-at-file-worker": "src/server/files/look-at-file-worker.ts",
    "seen-picture-worker": "src/server/handover/seen-picture-worker.ts",
    demo: "src/demo/main.ts",
  },
  outdir: "dist",
  outExtension: { ".js": ".mjs" },
  bundle: true,
  // What a command does not need is not read: `plain-tally frames` loads no database and no renderer.
  splitting: true,
  platform: "node",
  format: "esm",
  target: "node20",
  packages: "external",
  sourcemap: true,
  logLevel: "warning",
});

/** `npx plain-tally` looks in node_modules/.bin of the checkout. @param {string} home */
function link(home) {
  const bin = join(home, "node_modules/.bin");
  mkdirSync(bin, { recursive: true });
  rmSync(join(bin, "plain-tally"), { force: true });
  symlinkSync("../../bin/plain-tally.mjs", join(bin, "plain-tally"));
}

/** @param {string} home @param {{ outdir: string, sourcemap: boolean }} [to] elsewhere than where this checkout runs from */
export async function bundle(home, to) {
  await build({ ...options(home), ...to });
  if (to === undefined) link(home);
}

/**
 * Builds now and after each change. @param {string} home @param {() => void} onBuilt after the first build,
 * each time it worked
 */
export async function watchPrograms(home, onBuilt) {
  let isFirst = true;
  const watched = await context({
    ...options(home),
    plugins: [
      {
        name: "tell",
        setup({ onEnd }) {
          onEnd(({ errors }) => {
            if (errors.length === 0 && !isFirst) onBuilt();
          });
        },
      },
    ],
  });
  await watched.rebuild();
  isFirst = false;
  link(home);
  await watched.watch();
}
