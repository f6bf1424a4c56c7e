/** The plan of the version that follows one whose frames came from elsewhere, when they are rendered here from now on. */
import { DEFAULT_FILE, type FileFormat, type WrittenFormat } from "../image/file-format";
import { isStandInPass } from "./passes";
import { type Plan, PLAN_DEFAULTS } from "./plan";
import { STAND_IN } from "./renderer";

/** The format that is written here and is nearest to what was found. */
function nearestFormat(file: FileFormat): WrittenFormat {
  if (file.kind !== "foreign") return file;
  if (file.isLinear) return DEFAULT_FILE.exr;
  if (file.format === "JPEG") return DEFAULT_FILE.jpeg;
  const depth = (file.depth ?? 8) > 8 ? 16 : 8;
  return file.format === "TIFF" ? { ...DEFAULT_FILE.tiff, depth } : { ...DEFAULT_FILE.png, depth };
}

/**
 * Frames, rate, size and what the files are stay; names and folders are ours.
 * @param scene relative to the project's folder
 */
export function renderedHere(plan: Plan, scene: string): Plan {
  const passes = plan.passes.filter(isStandInPass);
  const file = nearestFormat(plan.file);
  return {
    ...plan,
    scene,
    renderer: STAND_IN,
    watched: null,
    passes: passes.includes("beauty") ? passes : ["beauty", ...passes],
    file,
    alpha: file.kind === "jpeg" ? "none" : plan.alpha,
    namePattern: `{shot}_{version}${plan.cameras.length > 1 ? "_{camera}" : ""}${passes.length > 1 ? "_{pass}" : ""}.{frame}`,
    digits: Math.max(PLAN_DEFAULTS.digits, plan.digits),
  };
}
