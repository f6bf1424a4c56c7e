/**
 * Shots that an edit asks for: one for each name that its clips bear, with the frames that they show and
 * handles at both ends. A clip that bears the name of a shot that is there means that one.
 */
import { codeOf } from "../plan/proposed-name";
import { type EditList } from "./edit-list";
import { shotMeant } from "./edit-use";

export interface EditShot {
  readonly code: string;
  /** Clips that show it. */
  readonly clips: number;
  /** Source frames that they show, as their time code counts: both inclusive. */
  readonly used: { readonly first: number; readonly last: number };
  /** Where the first of them stands. */
  readonly at: string;
}

/** `HL010_v003.mov` is of HL010: what a version is called is no part of the code. */
const VERSION = /[_-](V|TAKE|ROUGH)?\d+$/;

export interface ShotsOfEdit {
  /** In the order of the edit. */
  readonly shots: readonly EditShot[];
  /** For each clip of the list: the shot that it shows, or null. */
  readonly codes: readonly (string | null)[];
}

/** The code that a clip's name stands for, where no shot of that name is there. */
function newCode(name: string): string {
  const code = codeOf(name);
  const short = code.replace(VERSION, "");
  return short === "" ? code : short;
}

/** @param known codes of shots that are there */
export function shotsOfEdit(edit: Pick<EditList, "clips">, known: readonly string[]): ShotsOfEdit {
  const shotsKnown = known.map((code) => ({ code }));
  const shots = new Map<string, EditShot>();
  const codes: (string | null)[] = [];
  for (const clip of edit.clips) {
    const code = shotMeant(clip, shotsKnown)?.code ?? newCode(clip.names[0] ?? "");
    if (code === "" || clip.end <= clip.first) {
      codes.push(null);
      continue;
    }
    codes.push(code);
    const before = shots.get(code);
    const [first, last] = [clip.first, clip.end - 1];
    shots.set(code, {
      code,
      clips: (before?.clips ?? 0) + 1,
      used: {
        first: Math.min(first, before?.used.first ?? first),
        last: Math.max(last, before?.used.last ?? last),
      },
      at: before?.at ?? clip.at,
    });
  }
  return { shots: [...shots.values()], codes };
}

/** A time line for a new shot: what is used and handles, none of them before 0 where the use is not. */
export function timeLineFor(
  { first, last }: EditShot["used"],
  handles: number,
): { readonly first: number; readonly last: number } {
  const early = first - handles;
  return { first: first >= 0 ? Math.max(0, early) : early, last: last + handles };
}

/** The time line of a shot that is there, as much longer as the use and its handles ask; never shorter. */
export function timeLineGrown(
  timeLine: { readonly first: number; readonly last: number },
  used: EditShot["used"],
  handles: number,
): { readonly first: number; readonly last: number } {
  // Inside of it nothing is asked for: handles alone make no shot longer.
  if (used.first >= timeLine.first && used.last <= timeLine.last) return timeLine;
  const wanted = timeLineFor(used, handles);
  return {
    first: used.first < timeLine.first ? wanted.first : timeLine.first,
    last: used.last > timeLine.last ? wanted.last : timeLine.last,
  };
}
