// The second build beside Next: command line, engine child and demo, each one file for Node.
import { build } from "esbuild";
import { mkdirSync, rmSync, symlinkSync } from "node:fs";
import { join } from "node:path";

/** @param {string} home */
export async function bundle(home) {
  await build({
    absWorkingDir: home,
    entryPoints: {
      "plain-tally": "src/cli/main.ts",
      "engine-child": "src/server/engines/child.ts",
      demo: "src/demo/main.ts",
    },
    outdir: "dist",
    outExtension: { ".js": ".mjs" },
    bundle: true,
    platform: "node",
    format: "esm",
    target: "node20",
    packages: "external",
    sourcemap: true,
    logLevel: "warning",
  });
  // `npx plain-tally` looks in node_modules/.bin of the checkout.
  const bin = join(home, "node_modules/.bin");
  mkdirSync(bin, { recursive: true });
  rmSync(join(bin, "plain-tally"), { force: true });
  symlinkSync("../../bin/plain-tally.mjs", join(bin, "plain-tally"));
}
