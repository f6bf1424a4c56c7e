"use client";
/**
 * Puts together what the parts of the page share; each part stays the same object until something in it
 * changes.
 */
import { usePathname, useRouter, useSearchParams } from "next/navigation";
import { useCallback, useMemo, useState } from "react";
import type { SequenceView } from "@/contract/sequence-view";
import type { ShotView } from "@/contract/shot-view";
import { usedNumbers } from "@/core/edit/edit-use";
import { markerSets, phraseNames } from "@/core/tally/names";
import { mapValues, unpackSet, unpackTally } from "@/core/tally/packed";
import { countsOf } from "@/core/tally/tally";
import { isEqual, union } from "@/core/frames/frame-set";
import { FilesByFrame } from "../live/files-by-frame";
import { SavedByFrame } from "../live/saved-by-frame";
import {
  BENCHES,
  type BenchName,
  type Pointed,
  type SequenceNow,
  type ShotParts,
  type ShotWork,
} from "../shot/shot-context";
import type { EditsState } from "../shot/use-kept-edits";
import { usePlanDraft } from "../shot/use-plan-draft";
import { useSelection } from "../shot/use-selection";
import { useSteady } from "./use-steady";

/** What the viewer is open at: a frame's place is the focus; a stretch is played. */
export interface Looking {
  /** Null for a still. */
  readonly stretch: { readonly first: number; readonly last: number } | null;
}

/**
 * What is unpacked from a view stays the same object until its part of the view changes: 100,000 frames are
 * unpacked once.
 */
function useSequenceParts(view: SequenceView, stretches: ShotWork["stretches"]): SequenceNow {
  const tally = useMemo(() => unpackTally(view.tally), [view.tally]);
  const files = useMemo(() => new FilesByFrame(view.files), [view.files]);
  const saved = useMemo(() => new SavedByFrame(view.saved), [view.saved]);
  return useMemo(
    () => ({
      view,
      tally,
      counts: countsOf(tally),
      files,
      saved,
      names: phraseNames({ tally, markers: stretches, nodes: mapValues(view.nodes, unpackSet) }),
    }),
    [view, tally, files, saved, stretches],
  );
}

/** The address holds which bench and which sequence are open, so that it can be passed on. */
function usePlace(): Pick<ShotWork, "bench" | "openBench" | "openSequence"> {
  const router = useRouter();
  const pathname = usePathname();
  const query = useSearchParams().toString();
  return useMemo(() => {
    const wanted = new URLSearchParams(query).get("bench");
    const go = (change: Readonly<Record<string, string | null>>): void => {
      const next = new URLSearchParams(query);
      for (const [key, value] of Object.entries(change)) {
        if (value === null) next.delete(key);
        else next.set(key, value);
      }
      router.replace(`${pathname}?${next}`, { scroll: false });
    };
    return {
      bench: BENCHES.find((name) => name === wanted) ?? "run",
      openBench: (name: BenchName) => go({ bench: name }),
      openSequence: ({ version, camera, pass }) =>
        go({ version: version ?? null, camera: camera ?? null, pass: pass ?? null }),
    };
  }, [router, pathname, query]);
}

/**
 * @param edits drafts of plans, kept above so that another version does not lose them
 * @returns the three parts, what is being looked at, and how to stop looking
 */
export function useShotParts(
  shot: ShotView,
  view: SequenceView,
  edits: EditsState,
): ShotParts & { readonly looking: Looking | null; readonly endLook: () => void } {
  const stretches = useMemo(() => markerSets(shot.markers, shot.plan), [shot.markers, shot.plan]);
  const used = useMemo(
    () => (shot.edit === null ? null : usedNumbers(shot.edit, shot.plan)),
    [shot.edit, shot.plan],
  );
  const now = useSequenceParts(view, stretches);
  const { tally, names } = now;
  // Frames on the band change when the plan or the folder does, and not with every state.
  const shown = useSteady(
    useMemo(() => union(tally.asked, tally.results.extra), [tally]),
    isEqual,
  );
  const selection = useSelection(shown, names);
  const [focus, setFocus] = useState<number | null>(() => view.findings[0]?.frame ?? null);
  const [looking, setLooking] = useState<Looking | null>(null);
  const draft = usePlanDraft(shot, edits);
  const place = usePlace();
  const look = useCallback((frame: number, last?: number): void => {
    setFocus(frame);
    setLooking({ stretch: last === undefined ? null : { first: frame, last } });
  }, []);
  const work = useMemo(
    (): ShotWork => ({ ...place, shot, stretches, used, draft, setFocus, look }),
    [place, shot, stretches, used, draft, look],
  );
  const pointed = useMemo((): Pointed => ({ selection, focus }), [selection, focus]);
  return { work, now, pointed, looking, endLook: useCallback(() => setLooking(null), []) };
}
