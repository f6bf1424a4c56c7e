/**
 * Renderers that plans may name, and what the look fingerprint calls them.
 * What a renderer is called in a fingerprint is all that decides its pictures: its declaration, not its
 * place on a disk.
 */
import crypto from "node:crypto";
import type { RendererDeclaration } from "@/contract/configuration";
import { STAND_IN } from "@/core/plan/renderer";
import { settings } from "../configuration";
import { TallyError } from "../errors";
import { ENGINE } from "./stand-in";

/** How a renderer is called. @throws TallyError `renderer-unknown`, at the plan's field */
export function declarationOf(renderer: string): RendererDeclaration {
  const found = settings().renderers[renderer];
  if (found === undefined)
    throw new TallyError("renderer-unknown", { renderer }).at("renderer", "No such renderer is declared.");
  return found;
}

/** Names that a plan may choose from; the stand-in is always there. */
export const rendererNames = (): string[] => [STAND_IN, ...Object.keys(settings().renderers).sort()];

/** Whether the samples of a plan reach the renderer: a program that is not told of them made its own. */
export function takesSamples(renderer: string): boolean {
  if (renderer === STAND_IN) return true;
  const { arguments: single, batch = [] } = declarationOf(renderer);
  return [...single, ...batch].some((argument) => argument.includes("{samples}"));
}

/**
 * A call that differs in its arguments may make other pictures; how long it may take or what it prints makes
 * none.
 */
export function engineOf(renderer: string): string {
  if (renderer === STAND_IN) return ENGINE;
  const { program, arguments: single, batch = [], version = "" } = declarationOf(renderer);
  return `${renderer} ${version === "" ? "" : `${version}, `}call ${crypto
    .createHash("sha256")
    .update(JSON.stringify([program, single, batch]))
    .digest("hex")
    .slice(0, 12)}`;
}
