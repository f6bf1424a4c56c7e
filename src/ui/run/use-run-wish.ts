"use client";
/**
 * What is decided on the Run bench, and what follows from it: the request, and which frames it would render.
 */
import { useMemo, useState } from "react";
import type { StartRunBody } from "@/contract/bodies";
import { USUAL_MANNER } from "@/contract/run-manner";
import { EMPTY, type FrameSet, unionAll } from "@/core/frames/frame-set";
import { parsePhrase, type PhraseError } from "@/core/frames/phrase";
import type { Policy } from "@/core/run/what-to-render";
import { usePointed, useSequenceNow, useShotWork } from "../shot/shot-context";
import { otherOpenVersions } from "./decision";
import { shareFault, type Shares, sharesInNumbers } from "./hand-out";
import type { Manner } from "./manner";
import { NOTHING_MORE, type Then, wishesAfter } from "./then";
import { type Scope, useDecision } from "./use-decision";

/** Where the frames come from: the plan, the band, or a phrase that is typed. */
export type RunScope = "all" | "selection" | "phrase";

export interface RunChoice {
  readonly scope: RunScope;
  /** Kept also while another scope is chosen, so that nothing that was typed is lost. */
  readonly phrase: string;
}

/** What a person decides of the next run beside its frames. */
export interface RunWish {
  readonly policy: Policy;
  /** Names of nodes that may take part; null is all. */
  readonly nodes: readonly string[] | null;
  /** Of which sequences of the version. */
  readonly scope: Scope;
  /** Names of other versions that it covers too. */
  readonly also: readonly string[];
  /** The run opens the next version with the same plan. */
  readonly inNextVersion: boolean;
  /** Order, priority, times and batches. */
  readonly manner: Manner;
  /** What is handed over once all frames are good. */
  readonly then: Then;
  /** Frames for machines that are not connected; null: connected nodes lease them. */
  readonly shares: Shares | null;
}

export interface RunPlan {
  readonly wish: RunWish;
  readonly change: (change: Partial<RunWish>) => void;
  /** Blank asks for nothing. */
  readonly phrase: string;
  readonly phraseError: PhraseError | null;
  /** Frames that the phrase means. */
  readonly wanted: FrameSet;
  readonly decision: ReturnType<typeof useDecision>;
  /** Frames that would be rendered, of any sequence. */
  readonly free: FrameSet;
  /** What is sent, to the preflight and to the start. */
  readonly request: StartRunBody;
  /** Something would be rendered: only then is a preflight worth asking nodes for. */
  readonly hasWork: boolean;
  /** Nothing that was decided contradicts itself. */
  readonly canBegin: boolean;
}

/** An empty selection is an empty phrase, which asks for nothing, and never for all. */
function phraseOf(choice: RunChoice, selection: { readonly set: FrameSet; readonly text: string }): string {
  if (choice.scope === "all") return "all";
  if (choice.scope === "phrase") return choice.phrase;
  return selection.set.count === 0 ? "" : selection.text;
}

/** The wish outlives a change of version: who goes through three looks wants them rendered alike. */
export function useRunWish(choice: RunChoice): RunPlan {
  const { shot } = useShotWork();
  const { names } = useSequenceNow();
  const { selection } = usePointed();
  const [kept, setWish] = useState<RunWish>({
    policy: "fill",
    nodes: null,
    scope: "version",
    also: [],
    inNextVersion: false,
    manner: USUAL_MANNER,
    then: NOTHING_MORE,
    shares: null,
  });
  const isHandedOut = kept.shares !== null;
  const wish: RunWish = {
    ...kept,
    scope: isHandedOut ? "version" : kept.scope,
    // One that was retired meanwhile is no choice any more.
    inNextVersion: kept.inNextVersion && !isHandedOut,
    also:
      isHandedOut || kept.inNextVersion
        ? []
        : kept.also.filter((name) => otherOpenVersions(shot).includes(name)),
  };
  const phrase = phraseOf(choice, selection);
  const read = useMemo(() => (phrase.trim() === "" ? null : parsePhrase(phrase, names)), [phrase, names]);
  const decision = useDecision(phrase, wish.policy, wish.scope, wish.inNextVersion);
  const free =
    decision === null
      ? EMPTY
      : unionAll([decision.focus?.toRender ?? EMPTY, ...decision.others.map((o) => o.decision.toRender)]);
  const { policy, nodes, scope, also, inNextVersion, manner, shares, then } = wish;
  const following = wishesAfter(then);
  return {
    wish,
    change: (change) => setWish((before) => ({ ...before, ...change })),
    phrase,
    phraseError: read === null || read.ok ? null : read.error,
    wanted: read?.ok ? read.set : EMPTY,
    decision,
    free,
    request: {
      phrase: phrase.trim() === "" ? "all" : phrase,
      policy,
      scope,
      ...manner,
      nodes,
      ...(shares === null ? {} : { shares: sharesInNumbers(shares, names) }),
      ...(also.length === 0 ? {} : { also }),
      ...(inNextVersion ? { inNextVersion } : {}),
      ...(following.length === 0 ? {} : { then: following }),
    },
    hasWork: (decision?.frames ?? 0) > 0 || (also.length > 0 && decision !== null),
    canBegin: shares === null ? nodes?.length !== 0 : shareFault(shares, free, names) === null,
  };
}
