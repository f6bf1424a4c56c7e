"use client";
/** What a request would render in each sequence of its scope; names such as `missing` mean each one's own frames. */
import { useMemo } from "react";
import { parsePhrase } from "@/core/frames/phrase";
import { framesToRender, type Policy, type RenderDecision } from "@/core/run/what-to-render";
import { phraseNames } from "@/core/tally/names";
import { unpackTally } from "@/core/tally/packed";
import { useShotWork } from "../shot/shot-context";

export type Scope = "version" | "sequence";

export interface SequenceDecision {
  readonly camera: string;
  readonly pass: string;
  readonly decision: RenderDecision;
}

export interface VersionDecision {
  /** Of the sequence with the focus; null where the plan does not ask for it. */
  readonly focus: RenderDecision | null;
  readonly others: readonly SequenceDecision[];
  /** Frames to render in all of them together. */
  readonly files: number;
}

/** Null while the phrase is empty or wrong. */
export function useDecision(phrase: string, policy: Policy, scope: Scope): VersionDecision | null {
  const { view, stretches, names } = useShotWork();
  return useMemo(() => {
    if (phrase.trim() === "") return null;
    const own = parsePhrase(phrase, names);
    if (!own.ok) return null;
    let focus: RenderDecision | null = null;
    const others: SequenceDecision[] = [];
    for (const sibling of view.siblings) {
      const isFocus = sibling.id === view.id;
      if (!isFocus && scope === "sequence") continue;
      const tally = unpackTally(sibling.tally);
      const wanted = isFocus
        ? own
        : parsePhrase(phrase, phraseNames({ tally, markers: stretches, nodes: {} }));
      if (!wanted.ok) continue;
      const decision = framesToRender(tally, wanted.set, policy);
      if (isFocus) focus = decision;
      else others.push({ camera: sibling.camera, pass: sibling.pass, decision });
    }
    return {
      focus,
      others,
      files: (focus?.toRender.count ?? 0) + others.reduce((sum, o) => sum + o.decision.toRender.count, 0),
    };
  }, [phrase, policy, scope, view, stretches, names]);
}
