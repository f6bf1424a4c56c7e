/**
 * What another renderer tells of its scene: its declaration may name a call that prints it as JSON. Told once for
 * a file and a declaration: pages ask again and again.
 */
import { execFile } from "node:child_process";
import { promisify } from "node:util";
import { LRUCache } from "lru-cache";
import { BOUNDS } from "@/contract/bounds";
import { checkDescribedScene, type DescribedScene } from "@/contract/scene-facts";
import { faultText } from "@/contract/validate";
import { fillTemplate } from "@/core/plan/call-template";
import { TallyError } from "../errors";
import { fileHash } from "../files/content";
import { programEnvironment } from "../program-environment";
import { declarationOf } from "./renderers";

/** Reading a large scene takes a while; nobody waits longer for a list of cameras. */
const DESCRIBE_MS = 60_000;

const told = new LRUCache<string, DescribedScene>({ max: 200 });
const call = promisify(execFile);

/** The value that the program printed. @throws TallyError `scene-undescribed` */
function readDescription(renderer: string, printed: string): DescribedScene {
  let value: unknown;
  try {
    value = JSON.parse(printed);
  } catch (error) {
    throw new TallyError("scene-undescribed", {
      renderer,
      why: `it printed no JSON (${(error as Error).message})`,
    });
  }
  const checked = checkDescribedScene(value);
  if (!checked.ok) throw new TallyError("scene-undescribed", { renderer, why: faultText(checked.faults) });
  return checked.value;
}

/**
 * @param file absolute
 * @returns null where the declaration names no such call
 * @throws TallyError `scene-undescribed`, with what the program did instead; `renderer-unknown`
 */
export async function describeScene(file: string, renderer: string): Promise<DescribedScene | null> {
  const { program, describe } = declarationOf(renderer);
  if (describe === undefined) return null;
  const args = fillTemplate(describe, { scene: file });
  const key = JSON.stringify([await fileHash(file), program, args]);
  const known = told.get(key);
  if (known !== undefined) return known;
  const { stdout } = await call(program, args, {
    timeout: DESCRIBE_MS,
    killSignal: "SIGKILL",
    maxBuffer: BOUNDS.describedText,
    env: programEnvironment(),
  }).catch((error: Error & { code?: number | string; killed?: boolean; stderr?: string }) => {
    const said = error.stderr?.trim().split("\n").at(-1);
    const why =
      error.killed === true
        ? `it did not end within ${DESCRIBE_MS / 1000} s, or printed too much`
        : typeof error.code === "number"
          ? `it ended with exit code ${error.code}${said === undefined || said === "" ? "" : `: ${said}`}`
          : error.message;
    throw new TallyError("scene-undescribed", { renderer, why }).because(error);
  });
  const described = readDescription(renderer, stdout);
  told.set(key, described);
  return described;
}
