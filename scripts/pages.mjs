// Serves the built pages of an archive, as Next's own standalone server does: with the configuration that they were built with
// and without what builds them.
import fs from "node:fs";
import { createRequire } from "node:module";
import path from "node:path";
import { parseArgs } from "node:util";

const home = path.dirname(import.meta.dirname);
const { values } = parseArgs({ options: { host: { type: "string" }, port: { type: "string" } } });
const { config } = JSON.parse(fs.readFileSync(path.join(home, ".next/required-server-files.json"), "utf8"));
process.env.NODE_ENV = "production";
process.env.__NEXT_PRIVATE_STANDALONE_CONFIG = JSON.stringify(config);
process.chdir(home);

const require = createRequire(path.join(home, "package.json"));
require("next");
const { startServer } = require("next/dist/server/lib/start-server");
await startServer({
  dir: home,
  isDev: false,
  config,
  hostname: values.host,
  port: Number(values.port),
  allowRetry: false,
});
