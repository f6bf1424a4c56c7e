/** `plain-tally patch`: what is to be rendered again of shots, each range with why; and the runs that do it. */
import type { PatchView } from "@/contract/patch-view";
import { formatPhrase } from "@/core/frames/phrase";
import { unpackSet } from "@/core/tally/packed";
import { startRun } from "@/server/actions/start-run";
import { pool } from "@/server/db/pool";
import { TallyError } from "@/server/errors";
import { requireProject, requireShot } from "@/server/store/find-shot";
import { listShots } from "@/server/store/shots";
import { viewPatch } from "@/server/views/patch";
import { EXIT, type ExitCode, print, printJson } from "./command";
import { whoCalls } from "./who";

/** A shot by its name; all shots of a project by its. */
async function shotsOf(names: readonly string[]): Promise<readonly string[]> {
  const shots: string[] = [];
  for (const name of names) {
    const project = name.includes("/")
      ? null
      : await requireProject(name).catch((error: unknown) => {
          if (error instanceof TallyError && error.code === "project-unknown") return null;
          throw error;
        });
    if (project === null) {
      const found = await requireShot(name);
      shots.push(`${found.project.slug}/${found.shot.code}`);
    } else for (const shot of await listShots(pool(), project.id)) shots.push(`${project.slug}/${shot.code}`);
  }
  return [...new Set(shots)];
}

interface Patched {
  readonly name: string;
  readonly list: PatchView;
  /** Null: none was started. */
  readonly run: number | null;
  readonly refused: string | null;
}

/** What is refused for one shot is done for the others. */
async function start({ sequenceId, nodes }: PatchView): Promise<Pick<Patched, "run" | "refused">> {
  try {
    const request = {
      sequenceId: sequenceId!,
      phrase: "all",
      policy: "mend",
      scope: "version",
      nodes,
    } as const;
    return { run: (await startRun(request, whoCalls())).runId, refused: null };
  } catch (error) {
    if (error instanceof TallyError) return { run: null, refused: error.message };
    throw error;
  }
}

export async function patchCommand(
  names: readonly string[],
  options: { readonly start?: boolean; readonly json?: boolean },
): Promise<ExitCode> {
  const told: Patched[] = [];
  for (const name of await shotsOf(names)) {
    const list = await viewPatch(name);
    if (list.sequences.length === 0) continue;
    const came = options.start === true && !list.isWatched ? await start(list) : { run: null, refused: null };
    told.push({ name, list, ...came });
  }
  if (options.json)
    printJson(
      told.map(({ name, list, run, refused }) => ({
        ...{ shot: name, version: list.version, run, refused, leftOut: list.leftOut.map(({ node }) => node) },
        ranges: list.sequences.flatMap(({ camera, pass, ranges }) =>
          ranges.map(({ result, why, frames }) => ({
            ...{ camera, pass, result, why },
            frames: formatPhrase(unpackSet(frames)),
            count: unpackSet(frames).count,
          })),
        ),
      })),
    );
  else {
    if (told.length === 0) print("Nothing is missing, failed, flagged or out of date.");
    for (const { name, list, run, refused } of told) {
      print(`${name} ${list.version}`);
      for (const { camera, pass, ranges } of list.sequences)
        for (const { result, why, frames } of ranges)
          print(
            `  ${camera} ${pass}  ${formatPhrase(unpackSet(frames))}  ${why === null ? result : `${result}: ${why}`}`,
          );
      for (const { node, bad, of } of list.leftOut)
        print(`  without ${node}, which made ${bad} of the ${of} bad frames whose maker is known`);
      if (list.isWatched) print("  something else renders its frames: ask for these there");
      if (run !== null) print(`  run ${run} is started`);
      if (refused !== null) print(`  ${refused}`);
    }
  }
  return told.length === 0 ? EXIT.fine : EXIT.frames;
}
