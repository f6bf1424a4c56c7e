/**
 * Renderers that plans may name, what they offer, and what the look fingerprint calls them.
 * What a renderer is called in a fingerprint is all that decides its pictures: its declaration, not its
 * place on a disk.
 */
import crypto from "node:crypto";
import { offerOf, type RendererDeclaration } from "@/contract/renderer-declaration";
import { STAND_IN } from "@/core/plan/renderer";
import { type RendererOffer, STAND_IN_OFFER } from "@/core/plan/renderer-offer";
import { declaredRenderers } from "../configuration";
import { TallyError } from "../errors";
import { ENGINE } from "./stand-in";

/** How a renderer is called. @throws TallyError `renderer-unknown`, at the plan's field */
export function declarationOf(renderer: string): RendererDeclaration {
  const found = declaredRenderers()[renderer];
  if (found === undefined)
    throw new TallyError("renderer-unknown", { renderer }).at("renderer", "No such renderer is declared.");
  return found;
}

/** What a renderer offers. @throws TallyError `renderer-unknown` */
export const offerOfRenderer = (renderer: string): RendererOffer =>
  renderer === STAND_IN ? STAND_IN_OFFER : offerOf(renderer, declarationOf(renderer));

/** Whether what a frame has so far can be saved; of a renderer that is declared no more nothing can. */
export const keepsState = (renderer: string): boolean =>
  renderer === STAND_IN || declaredRenderers()[renderer]?.between !== undefined;

/** All that a plan may choose from; the stand-in is always there, and first. */
export const rendererOffers = (): RendererOffer[] => [
  STAND_IN_OFFER,
  ...Object.entries(declaredRenderers())
    .map(([name, declared]) => offerOf(name, declared))
    .sort((a, b) => (a.name < b.name ? -1 : 1)),
];

/** Whether the samples of a plan reach the renderer: a program that is not told of them made its own. */
export const takesSamples = (renderer: string): boolean => offerOfRenderer(renderer).told.includes("samples");

/** What of a declaration decides the pictures, besides the call itself; nothing where it has none of it. */
function decisive({ options, gather }: RendererDeclaration): readonly unknown[] {
  const told = Object.entries(options ?? {})
    .sort(([a], [b]) => (a < b ? -1 : 1))
    .map(([name, option]) => [name, option.arguments, option.usual ?? null]);
  return [...(told.length === 0 ? [] : [told]), ...(gather === undefined ? [] : [gather])];
}

/**
 * A call that differs in its arguments may make other pictures; how long it may take or what it prints makes
 * none, and a pass more changes nothing for the others.
 */
export function engineOf(renderer: string): string {
  if (renderer === STAND_IN) return ENGINE;
  const declared = declarationOf(renderer);
  const { program, arguments: single, batch = [], version = "" } = declared;
  return `${renderer} ${version === "" ? "" : `${version}, `}call ${crypto
    .createHash("sha256")
    .update(JSON.stringify([program, single, batch, ...decisive(declared)]))
    .digest("hex")
    .slice(0, 12)}`;
}
