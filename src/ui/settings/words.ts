/** Texts of the page Settings. */
import type { RootSeen } from "@/contract/node-request";
import type { SettingView } from "@/contract/settings-view";
import { size } from "../words";

/** Ready to be copied. */
export const ADD_ROOT = "plain-tally root add NAME /folder";

interface Told {
  readonly text: string;
  readonly isWrong: boolean;
}

const SILENT: Told = { text: "has not answered", isWrong: true };

/** How a node sees a root. @param seen null: it did not answer */
export function rootText(seen: RootSeen | null): Told {
  if (seen === null) return SILENT;
  if (seen.path === null) return { text: "has no root of this name: declare it there too", isWrong: true };
  if (!seen.isSame)
    return {
      text: `sees another folder at ${seen.path}: the share is not there, or the path is another`,
      isWrong: true,
    };
  if (seen.cannotWrite !== null)
    return { text: `sees it and cannot write (${seen.cannotWrite})`, isWrong: true };
  return {
    text: `sees it and can write${seen.freeBytes === null ? "" : `, ${size(seen.freeBytes)} free`}`,
    isWrong: false,
  };
}

/** Whether a node can render. @param seen null: it did not answer */
export function rendererText(seen: { readonly name: string; readonly fault: string | null } | null): Told {
  if (seen === null) return SILENT;
  return seen.fault === null
    ? { text: "is ready", isWrong: false }
    : { text: `is not: ${seen.fault.replace(`${seen.name}: `, "")}`, isWrong: true };
}

/** Where a value comes from. */
export function sourceText({ source, variable }: SettingView): string {
  switch (source) {
    case "environment":
      return `from ${variable ?? "the environment"}`;
    case "file":
      return "from the file";
    case "usual":
      return "as usual: nothing says otherwise";
  }
}

/** What each setting is for. */
export const SETTING_TEXT: Readonly<Record<string, string>> = {
  data: "folder of the private database, logs and small pictures",
  databaseUrl: "the database; its password is not shown",
  roots: "storage, by name",
  renderers: "programs that plans may name",
  whenRunEnds: "what is called when a run is done or stopped",
  whenHandedOver: "what is called for handovers that shall be told of",
  keep: "how long what is kept",
};
