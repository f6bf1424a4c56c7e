/** Settings of a plan as somebody types them in a shell: `samples=64`, `rate=23.976`, `passes=beauty,depth`. */
import { DEFAULT_FILE, type FileKind } from "../image/file-format";
import { parseRate } from "../timing/rate";
import { type Plan, PLAN_DEFAULTS } from "./plan";

/** Fields that can be set; the time line is the shot's. */
export const PLAN_FIELDS = [
  "scene",
  "cameras",
  "frames",
  "rate",
  ...(Object.keys(PLAN_DEFAULTS) as (keyof typeof PLAN_DEFAULTS)[]),
] as const satisfies readonly (keyof Plan)[];
export type PlanField = (typeof PLAN_FIELDS)[number];

/** Fields that are a text whatever it looks like: a pattern of numbers stays one. */
const TEXTS: ReadonlySet<PlanField> = new Set(["scene", "frames", "renderer", "namePattern"]);
const LISTS: ReadonlySet<PlanField> = new Set(["cameras", "passes", "markersOff"]);
/** What a person writes for nothing. */
const NOTHING: ReadonlySet<string> = new Set(["none", "null", ""]);

const isFileKind = (text: string): text is FileKind => Object.hasOwn(DEFAULT_FILE, text);

/** Anything that JSON can say; a bare word is itself. */
function readJson(text: string): unknown {
  try {
    return JSON.parse(text);
  } catch {
    return text;
  }
}

/** A value as its field wants it, as far as the text tells; the plan's schema and reader have the last word. */
function readValue(field: PlanField, text: string): unknown {
  if (TEXTS.has(field)) return text;
  if (LISTS.has(field))
    return text
      .split(",")
      .map((part) => part.trim())
      .filter((part) => part !== "");
  if (field === "rate") return parseRate(text) ?? text;
  if (field === "file" && isFileKind(text)) return DEFAULT_FILE[text];
  if (field === "alpha" || field === "channels") return text;
  return NOTHING.has(text) ? null : readJson(text);
}

export type PlanSetting =
  | { readonly ok: true; readonly field: PlanField; readonly value: unknown }
  | { readonly ok: false; readonly message: string };

/** Options of the renderer are written as `option.NAME=value`. */
const OPTION = "option.";

/** Reads `key=value`. An option comes as the one that is to be set; no value takes it out. */
export function readPlanSetting(text: string): PlanSetting {
  const at = text.indexOf("=");
  if (at < 1) return { ok: false, message: `"${text}" is no setting; write key=value, such as samples=64.` };
  const key = text.slice(0, at).trim();
  if (key.startsWith(OPTION))
    return {
      ok: true,
      field: "options",
      value: { [key.slice(OPTION.length)]: readValue("options", text.slice(at + 1).trim()) },
    };
  const field = PLAN_FIELDS.find((f) => f === key);
  return field === undefined
    ? { ok: false, message: `A plan has no "${key}"; it has ${PLAN_FIELDS.join(", ")}.` }
    : { ok: true, field, value: readValue(field, text.slice(at + 1).trim()) };
}
