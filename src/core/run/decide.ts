/**
 * What a phrase under a policy renders in each sequence that a run covers. The page shows this
 * decision, the preflight judges it, and the start makes it once more on what it reads under the lock:
 * all of them call this.
 */
import { difference, EMPTY, type FrameSet, intersection, union, unionAll } from "../frames/frame-set";
import {
  formatPhrase,
  type NameResolver,
  parsePhrase,
  type PhraseError,
  phraseTerms,
} from "../frames/phrase";
import { phraseNames } from "../tally/names";
import type { Tally } from "../tally/tally";
import type { RunOrder } from "./run-order";
import { framesToRender, type Policy, type RenderDecision } from "./what-to-render";

/** A sequence as a decision sees it. */
export interface Decidable {
  /** As it is now. */
  readonly tally: Tally;
  /** Frames of each marker. */
  readonly markers: Readonly<Record<string, FrameSet>>;
  /** Frames whose file each node made. */
  readonly nodes: Readonly<Record<string, FrameSet>>;
}

/** The sequence, and what of it would be rendered and kept. */
export interface Decided<S> {
  readonly of: S;
  readonly decision: RenderDecision;
}

/** A name means each sequence's own frames; a node that made none of one is no wrong name there. */
function namesOfEach(sequences: readonly Decidable[]): NameResolver[] {
  const none = Object.fromEntries(
    sequences.flatMap((s) => Object.keys(s.nodes)).map((name) => [name, EMPTY]),
  );
  return sequences.map((s) => phraseNames({ ...s, nodes: { ...none, ...s.nodes } }));
}

/**
 * Reads the phrase against each sequence's own names and tally, and decides for each what to render and why.
 * @returns one decision a sequence, in order, or what is wrong with the phrase
 */
export function decideSequences<S extends Decidable>(
  sequences: readonly S[],
  phrase: string,
  policy: Policy,
):
  | { readonly ok: true; readonly decided: readonly Decided<S>[] }
  | { readonly ok: false; readonly error: PhraseError } {
  const names = namesOfEach(sequences);
  const decided: Decided<S>[] = [];
  for (const [i, sequence] of sequences.entries()) {
    const wanted = parsePhrase(phrase, names[i]!);
    if (!wanted.ok) return wanted;
    decided.push({ of: sequence, decision: framesToRender(sequence.tally, wanted.set, policy) });
  }
  return { ok: true, decided };
}

/** Pictures that several decisions render: each pass of a frame is one. */
export const picturesDecided = (decided: readonly Decided<unknown>[]): number =>
  decided.reduce((sum, { decision }) => sum + decision.toRender.count, 0);

/**
 * Frames that several decisions render: one rendering of a camera writes all passes that need it.
 * @param cameraOf names the camera of a sequence, of its version where there are several
 */
export function framesDecided<S>(decided: readonly Decided<S>[], cameraOf: (of: S) => string): number {
  const byCamera = new Map<string, FrameSet>();
  for (const { of, decision } of decided) {
    const camera = cameraOf(of);
    byCamera.set(camera, union(byCamera.get(camera) ?? EMPTY, decision.toRender));
  }
  return [...byCamera.values()].reduce((sum, set) => sum + set.count, 0);
}

/** Frames that several decisions leave alone: none of their pictures is made anew. */
export function framesKept<S>(decided: readonly Decided<S>[], cameraOf: (of: S) => string): number {
  const kept = new Map<string, FrameSet>();
  const made = new Map<string, FrameSet>();
  const add = (to: Map<string, FrameSet>, camera: string, set: FrameSet): void =>
    void to.set(camera, union(to.get(camera) ?? EMPTY, set));
  for (const { of, decision } of decided) {
    for (const { frames } of decision.keep) add(kept, cameraOf(of), frames);
    add(made, cameraOf(of), decision.toRender);
  }
  return [...kept].reduce((sum, [camera, set]) => sum + difference(set, made.get(camera) ?? EMPTY).count, 0);
}

export interface WrittenOut {
  /** What the phrase means for any of the sequences. */
  readonly set: FrameSet;
  /** One set a term, in the order in which they were written. */
  readonly terms: readonly FrameSet[];
  /** The same as plain numbers. */
  readonly wanted: string;
}

/**
 * A phrase in plain numbers, because what a name means changes while a run goes; its terms apart where their
 * order counts.
 * @param sequences one of each version: a name means the frames of all of them. The phrase has been read
 * before.
 */
export function writeOut(sequences: readonly Decidable[], phrase: string, order: RunOrder): WrittenOut {
  const names = namesOfEach(sequences);
  const sets = names.map((resolve) => {
    const read = parsePhrase(phrase, resolve);
    return read.ok ? read.set : EMPTY;
  });
  const set = unionAll(sets);
  const ofEach = names.map((resolve) => phraseTerms(phrase, resolve));
  const terms = (ofEach[0] ?? []).map((_, i) =>
    intersection(
      ofEach.reduce((all, each) => union(all, each[i] ?? EMPTY), EMPTY),
      set,
    ),
  );
  const wanted =
    order === "as-written"
      ? terms
          .filter((term) => term.count > 0)
          .map(formatPhrase)
          .join(",")
      : formatPhrase(set);
  return { set, terms, wanted };
}
