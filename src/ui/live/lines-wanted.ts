/**
 * Which lines of a ledger have changed since it was last asked for. News says so line by line, and the next
 * question is for these alone: a ledger of 500 shots is 500 tallies, of which a run changes one or two.
 * Nothing is known of a ledger that was never read, or whose news were missed: then all of it is asked for.
 */
import type { ShotsView } from "@/contract/shot-view";

/** More lines than these at once are asked for as the whole. */
const MOST_LINES = 50;

/** Lines of a large ledger that are asked for at once: it comes in parts. */
export const LEDGER_PART = 25;

/** By project. What is not in it is up to date, or was never read. */
const wanted = new Map<string, Set<string> | "all">();

/** Lines of these shots are out of date. */
export function wantLines(project: string, codes: readonly string[]): void {
  const known = wanted.get(project);
  if (known === "all") return;
  wanted.set(project, new Set([...(known ?? []), ...codes]));
}

/** Any line may be out of date. */
export const wantAllLines = (project: string): void => void wanted.set(project, "all");

/** Lines that were asked for take the place of those before; one that is gone goes. */
function merge(known: ShotsView, answer: ShotsView, asked: ReadonlySet<string>): ShotsView {
  const anew = new Map(answer.shots.map((line) => [line.code, line]));
  return {
    project: answer.project,
    archived: answer.archived,
    edit: answer.edit,
    rest: known.rest,
    shots: known.shots.flatMap((line) => {
      if (!asked.has(line.code)) return [line];
      const found = anew.get(line.code);
      return found === undefined ? [] : [found];
    }),
  };
}

/** The ledger as it is read anew, with the lines from before for those that are still to come. */
const begun = (known: ShotsView | undefined, answer: ShotsView): ShotsView => ({
  ...answer,
  shots: [...answer.shots, ...(known?.shots ?? []).filter((line) => answer.rest.includes(line.code))],
});

/** The next part takes its place in the ledger. */
function goneOn(known: ShotsView, answer: ShotsView, part: readonly string[]): ShotsView {
  return {
    project: answer.project,
    archived: answer.archived,
    edit: answer.edit,
    shots: [...known.shots.filter((line) => !part.includes(line.code)), ...answer.shots],
    rest: known.rest.filter((code) => !part.includes(code)),
  };
}

/**
 * Reads what is wanted of a ledger: the lines that have changed, else the next part of one that is not there
 * wholly, else all of it from the beginning.
 * @param known the ledger as it was last read
 * @param read `only` codes, or all with null
 * @throws what `read` throws; then all of it is wanted again
 */
export async function readLines(
  project: string,
  known: ShotsView | undefined,
  read: (only: readonly string[] | null) => Promise<ShotsView>,
): Promise<ShotsView> {
  const asked = wanted.get(project);
  // What changes from here on is wanted for the next time.
  wanted.delete(project);
  const isPart =
    known !== undefined &&
    asked !== undefined &&
    asked !== "all" &&
    asked.size > 0 &&
    asked.size <= MOST_LINES;
  const part = asked === undefined ? (known?.rest.slice(0, LEDGER_PART) ?? []) : [];
  try {
    if (isPart) return merge(known, await read([...asked]), asked);
    if (part.length > 0) return goneOn(known!, await read(part), part);
    return begun(known, await read(null));
  } catch (error) {
    wantAllLines(project);
    throw error;
  }
}
