#!/usr/bin/env node
// The command: says where home is, and where what is kept lies, then runs the built program.
import { existsSync, realpathSync } from "node:fs";
import { homedir } from "node:os";
import { dirname, join } from "node:path";
import { fileURLToPath, pathToFileURL } from "node:url";

const home = dirname(dirname(realpathSync(fileURLToPath(import.meta.url))));
process.env.PLAIN_TALLY_HOME ??= home;
// A checkout keeps all of its own beside it. What was installed from an archive may be nobody's to write in, and the next
// version takes its place: data and configuration lie where the person's other ones do (XDG Base Directory).
if (existsSync(join(home, "packed.json")))
  process.env.PLAIN_TALLY_PLACE ??= join(
    process.env.XDG_DATA_HOME || join(homedir(), ".local/share"),
    "plain-tally",
  );
const program = join(home, "dist/plain-tally.mjs");
if (!existsSync(program)) {
  process.stderr.write("plain-tally: not built yet; run `npm run build` in the checkout.\n");
  process.exit(3);
}
// The house starts this command itself, and needs nothing of the built program.
if (process.argv[2] === "start" && !process.argv.includes("--help")) {
  process.argv.splice(2, 1);
  await import(pathToFileURL(join(home, "scripts/start.mjs")).href);
} else await import(pathToFileURL(program).href);
