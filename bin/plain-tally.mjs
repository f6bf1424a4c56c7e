#!/usr/bin/env node
// The command of this checkout: says where home is, then runs the built program.
import { existsSync, realpathSync } from "node:fs";
import { dirname, join } from "node:path";
import { fileURLToPath, pathToFileURL } from "node:url";

const home = dirname(dirname(realpathSync(fileURLToPath(import.meta.url))));
process.env.PLAIN_TALLY_HOME ??= home;
const program = join(home, "dist/plain-tally.mjs");
if (!existsSync(program)) {
  process.stderr.write("plain-tally: not built yet; run `npm run build` in the checkout.\n");
  process.exit(3);
}
await import(pathToFileURL(program).href);
