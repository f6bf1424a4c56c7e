"use client";
/**
 * What a request would render in each sequence of its scope: the decision of the server (core/run/decide),
 * made on what the page knows.
 */
import { useMemo } from "react";
import { type Decidable, decideSequences, framesDecided, picturesDecided } from "@/core/run/decide";
import type { Policy, RenderDecision } from "@/core/run/what-to-render";
import { mapValues, unpackSet, unpackTally } from "@/core/tally/packed";
import { asFresh } from "@/core/tally/tally";
import { useShotWork, useSequenceNow } from "../shot/shot-context";

/** Every sequence of the version, or the one that is looked at. */
export type Scope = "version" | "sequence";

export interface SequenceDecision {
  readonly camera: string;
  readonly pass: string;
  /** What of it would be rendered and kept, with reasons. */
  readonly decision: RenderDecision;
}

export interface VersionDecision {
  /** Of the sequence with the focus; null where the plan does not ask for it. */
  readonly focus: RenderDecision | null;
  /** The other sequences in the scope. */
  readonly others: readonly SequenceDecision[];
  /** Frames to render in all of them together: each once, whatever passes it writes. */
  readonly frames: number;
  /** Pictures that these write. */
  readonly pictures: number;
}

/** A sequence of the version with what the decision reads. */
interface Sibling extends Decidable {
  readonly id: number;
  readonly camera: string;
  readonly pass: string;
}

/**
 * Null while the phrase is empty or wrong.
 * @param inNextVersion as in a version that nothing was made of yet
 */
export function useDecision(
  phrase: string,
  policy: Policy,
  scope: Scope,
  inNextVersion: boolean,
): VersionDecision | null {
  const { stretches } = useShotWork();
  const { view } = useSequenceNow();
  const siblings = useMemo(
    () =>
      view.siblings.map(({ id, camera, pass, tally, nodes }): Sibling => ({
        id,
        camera,
        pass,
        tally: inNextVersion ? asFresh(unpackTally(tally)) : unpackTally(tally),
        markers: stretches,
        nodes: mapValues(nodes, unpackSet),
      })),
    [view.siblings, stretches, inNextVersion],
  );
  return useMemo(() => {
    if (phrase.trim() === "") return null;
    const read = decideSequences(
      siblings.filter((s) => scope === "version" || s.id === view.id),
      phrase,
      policy,
    );
    if (!read.ok) return null;
    return {
      focus: read.decided.find((d) => d.of.id === view.id)?.decision ?? null,
      others: read.decided
        .filter((d) => d.of.id !== view.id)
        .map(({ of: { camera, pass }, decision }) => ({ camera, pass, decision })),
      frames: framesDecided(read.decided, (of) => of.camera),
      pictures: picturesDecided(read.decided),
    };
  }, [phrase, policy, scope, siblings, view.id]);
}
