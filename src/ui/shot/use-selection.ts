/**
 * What is selected on the band: frames that were picked, or a phrase that keeps its meaning while the tally
 * changes.
 */
import { useMemo, useState } from "react";
import { difference, EMPTY, type FrameSet, intersection } from "@/core/frames/frame-set";
import { formatPhrase, type NameResolver, parsePhrase, type PhraseError } from "@/core/frames/phrase";

/** Picked frames are those frames for good; a phrase means what it means now. */
type Choice =
  { readonly by: "picking"; readonly set: FrameSet } | { readonly by: "phrase"; readonly text: string };

export interface Selection {
  /** Of those, the frames that are on the band. */
  readonly set: FrameSet;
  /** What the phrase field shows. */
  readonly text: string;
  /** The phrase cannot be read; the set is empty then. */
  readonly error: PhraseError | null;
  /** Frames of the phrase that this sequence does not have. */
  readonly outside: FrameSet;
  /** Takes the place of a phrase. */
  readonly pick: (set: FrameSet) => void;
  /** A blank one selects nothing. */
  readonly write: (text: string) => void;
}

/** @param shown frames that are on the band */
export function useSelection(shown: FrameSet, names: NameResolver): Selection {
  const [choice, setChoice] = useState<Choice>({ by: "picking", set: EMPTY });
  // Frames that were picked are those, whatever their states become.
  const meaning = choice.by === "phrase" ? names : null;
  const meant = useMemo(() => {
    if (choice.by === "picking")
      return {
        set: intersection(choice.set, shown),
        text: formatPhrase(intersection(choice.set, shown)),
        error: null,
        outside: EMPTY,
      };
    if (choice.text.trim() === "") return { set: EMPTY, text: choice.text, error: null, outside: EMPTY };
    const read = parsePhrase(choice.text, meaning!);
    if (!read.ok) return { set: EMPTY, text: choice.text, error: read.error, outside: EMPTY };
    return {
      set: intersection(read.set, shown),
      text: choice.text,
      error: null,
      outside: difference(read.set, shown),
    };
  }, [choice, meaning, shown]);
  return useMemo(
    () => ({
      ...meant,
      pick: (set) => setChoice({ by: "picking", set }),
      write: (text) => setChoice({ by: "phrase", text }),
    }),
    [meant],
  );
}
