/** The renderers of docs/renderers.md, read out of that page: what a reader copies is what the tests run. */
import fs from "node:fs";
import path from "node:path";
import { checkConfiguration, type Configuration } from "@/contract/configuration";

const HOME = process.env.PLAIN_TALLY_HOME ?? path.resolve(__dirname, "../..");
/** The small renderer that comes along, and its scenes. */
export const LANTERN = path.join(HOME, "tests/fixtures/renderer");

/** A declaration as the page shows it, with programs where they lie here. */
export function declaredInDocs(name: "lantern" | "stranger"): NonNullable<Configuration["renderers"]> {
  const page = fs.readFileSync(path.join(HOME, "docs/renderers.md"), "utf8");
  const block = new RegExp(`^\`\`\`json ${name}\n([\\s\\S]*?)^\`\`\``, "m").exec(page)?.[1];
  if (block === undefined) throw new Error(`docs/renderers.md shows no ${name}.`);
  const checked = checkConfiguration(
    JSON.parse(
      block
        .replaceAll("/opt/lantern", LANTERN)
        .replace('"node"', JSON.stringify(process.execPath))
        .replace('"plain-tally"', JSON.stringify(path.join(HOME, "bin/plain-tally.mjs"))),
    ),
  );
  if (!checked.ok) throw new Error(JSON.stringify(checked.faults));
  return checked.value.renderers!;
}

/** Puts its scene among those of a project. */
export const bringLamp = (projectFolder: string): void =>
  fs.cpSync(path.join(LANTERN, "scenes"), path.join(projectFolder, "scenes"), { recursive: true });
