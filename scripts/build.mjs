// npm run build: both builds, skipped when no source changed.
import path from "node:path";
import { ensureBuild, ensurePackages, requireNode } from "./lib/prepare.mjs";
import { step } from "./lib/steps.mjs";

const home = path.dirname(import.meta.dirname);
requireNode();
await ensurePackages(home);
await ensureBuild(home);
step("Built.");
