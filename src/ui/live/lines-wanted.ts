/**
 * Which lines of a ledger have changed since it was last asked for. News says so line by line, and the next
 * question is for these alone: a ledger of 500 shots is 500 tallies, of which a run changes one or two.
 * Nothing is known of a ledger that was never read, or whose news were missed: then all of it is asked for.
 */
import type { ShotsView } from "@/contract/shot-view";

/** More lines than these at once are asked for as the whole. */
const MOST_LINES = 50;

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
    shots: known.shots.flatMap((line) => {
      if (!asked.has(line.code)) return [line];
      const found = anew.get(line.code);
      return found === undefined ? [] : [found];
    }),
  };
}

/**
 * Reads what is wanted of a ledger.
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
  try {
    return isPart ? merge(known, await read([...asked]), asked) : await read(null);
  } catch (error) {
    wantAllLines(project);
    throw error;
  }
}
