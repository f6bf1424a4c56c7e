/** What is installed here: a checkout, or an archive that `npm run pack` made. */
import fs from "node:fs";
import path from "node:path";
import { home } from "./configuration";

export interface Installation {
  readonly version: string;
  /** Null: a checkout, which may hold anything. */
  readonly commit: string | null;
}

/** Read once: nobody puts another one under a running process without starting it anew. */
let known: Installation | null = null;

export function installation(): Installation {
  if (known !== null) return known;
  const read = (name: string): Partial<Record<string, unknown>> | null => {
    try {
      return JSON.parse(fs.readFileSync(path.join(home(), name), "utf8")) as Record<string, unknown>;
    } catch (error) {
      if ((error as NodeJS.ErrnoException).code === "ENOENT") return null;
      throw error;
    }
  };
  const packed = read("packed.json");
  const { version } = packed ?? read("package.json") ?? {};
  known = {
    version: typeof version === "string" ? version : "unknown",
    commit: typeof packed?.commit === "string" ? packed.commit : null,
  };
  return known;
}
