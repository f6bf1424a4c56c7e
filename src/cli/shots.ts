/**
 * `plain-tally status` and `plain-tally run`: the tally of a shot, and runs started from a shell.
 * The same decisions as the pages: what a run would render is decided and started by server/actions, only
 * the printing is here.
 */
import { whoCalls } from "./who";
import { setTimeout as pause } from "node:timers/promises";
import { formatPhrase } from "@/core/frames/phrase";
import { readVersionName, type VersionKey, versionName, wantedSequence } from "@/core/plan/plan";
import { POLICIES, type Policy } from "@/core/run/what-to-render";
import { sentenceText } from "@/core/tally/sentence";
import { countsOf, type TallyCounts, todoOf } from "@/core/tally/tally";
import { pool } from "@/server/db/pool";
import { runById } from "@/server/store/runs";
import { listProjects } from "@/server/store/projects";
import {
  latestRevision,
  listShots,
  listVersions,
  sequencesOfVersion,
  type SequenceRow,
} from "@/server/store/shots";
import { currentSequence } from "@/server/views/current-sequence";
import { startInNextVersion } from "@/server/actions/next-version";
import { startRun } from "@/server/actions/start-run";
import { loadSequence } from "@/server/views/tally";
import { CallWrong, EXIT, type ExitCode, listOf, print, printJson } from "./command";
import { type ThenOptions, wishesOfCall } from "./then";
import { runCounts } from "@/server/store/tasks";
import { requireShot } from "@/server/store/find-shot";

export interface SequenceOptions {
  /** As v001; the shot's current one where it is left out. */
  readonly version?: string;
  readonly camera?: string;
  /** The beauty where it is left out. */
  readonly pass?: string;
}

/** The sequence that a shot's code and options mean: what is not said is as on the shots page. */
export async function findSequence(code: string, options: SequenceOptions): Promise<SequenceRow> {
  const { shot } = await requireShot(code);
  const current = await currentSequence(shot.id);
  const wanted: VersionKey | null =
    options.version === undefined ? current : readVersionName(options.version);
  const version = (await listVersions(pool(), shot.id)).find(
    (v) => v.number === wanted?.version && v.purpose === wanted.purpose,
  );
  if (version === undefined)
    throw new CallWrong(
      options.version === undefined
        ? `${code} has no version yet`
        : `${code} has no version ${options.version}`,
    );
  const sequences = await sequencesOfVersion(pool(), version.id);
  const revision = await latestRevision(pool(), version.id);
  const wish = revision === null ? null : wantedSequence(revision.plan, options);
  const found = sequences.find((s) => s.camera === wish?.camera && s.pass === wish.pass);
  if (found === undefined)
    throw new CallWrong(
      `${code} has no such camera or pass; it has ${sequences.map((s) => `${s.camera} ${s.pass}`).join(", ") || "none"}`,
    );
  return found;
}

/** What `--json` prints. */
interface Status {
  readonly project: string;
  readonly shot: string;
  readonly version: number;
  readonly purpose: VersionKey["purpose"];
  readonly camera: string;
  readonly pass: string;
  /** Frames that the plan asks for. */
  readonly asked: number;
  readonly results: TallyCounts["results"];
  readonly activity: TallyCounts["activity"];
  /** What needs rendering, as a phrase. */
  readonly todo: string;
}

/** Catches up with nothing: it tells what the house knows now. */
async function statusOf(code: string, options: SequenceOptions): Promise<Status> {
  const { sequence, tally } = await loadSequence((await findSequence(code, options)).id);
  const { asked, results, activity } = countsOf(tally);
  return {
    project: sequence.project,
    shot: sequence.shot,
    version: sequence.version,
    purpose: sequence.purpose,
    camera: sequence.camera,
    pass: sequence.pass,
    asked,
    results,
    activity,
    todo: formatPhrase(todoOf(tally)),
  };
}

/** Every shot of every project, by its whole name. */
const namesOfAll = async (): Promise<string[]> =>
  (
    await Promise.all(
      (await listProjects(pool())).map(async (p) =>
        (await listShots(pool(), p.id)).map((s) => `${p.slug}/${s.code}`),
      ),
    )
  ).flat();

/** One shot, or every shot of every project. */
export async function statusCommand(
  code: string | undefined,
  options: SequenceOptions & { readonly json?: boolean },
): Promise<ExitCode> {
  const codes = code === undefined ? await namesOfAll() : [code];
  const statuses: Status[] = [];
  for (const each of codes) statuses.push(await statusOf(each, options));
  if (options.json) printJson(code === undefined ? statuses : statuses[0]);
  else
    for (const s of statuses)
      print(
        `${s.shot} ${versionName(s)} ${s.camera} ${s.pass}: ${sentenceText(s)}${s.todo === "" ? "" : `\nto do: ${s.todo}`}`,
      );
  return statuses.every((s) => s.todo === "") ? EXIT.fine : EXIT.frames;
}

export interface RunOptions extends SequenceOptions, ThenOptions {
  /** Renders in a version of its own. */
  readonly nextVersion?: boolean;
  readonly policy: string;
  /** Further versions, with commas. */
  readonly also?: string;
  /** Names, with commas; all where it is left out. */
  readonly nodes?: string;
  /** Ends when the run does, with its result as exit code. */
  readonly wait?: boolean;
  readonly json?: boolean;
}

/**
 * Starts what the page's Render would start. @returns after the start, or with --wait at the end of the run
 */
export async function runCommand(
  code: string,
  phrase: string | undefined,
  options: RunOptions,
): Promise<ExitCode> {
  const policy = POLICIES.find((p): p is Policy => p === options.policy);
  if (policy === undefined) throw new CallWrong(`--policy must be one of ${POLICIES.join(", ")}`);
  const following = await wishesOfCall(options);
  const sequence = await findSequence(code, options);
  const start = options.nextVersion === true ? startInNextVersion : startRun;
  const { startFollowed } = await import("@/server/handover/follow");
  const started = await startFollowed(
    start,
    {
      sequenceId: sequence.id,
      scope: options.pass === undefined && options.camera === undefined ? "version" : "sequence",
      phrase: phrase ?? "all",
      policy,
      nodes: options.nodes === undefined ? null : listOf(options.nodes),
      ...(options.also === undefined ? {} : { also: listOf(options.also) }),
    },
    following,
    whoCalls(),
  );
  const { runId, decision, tasks } = started;
  const version = "version" in started ? started.version : null;
  const frames = formatPhrase(decision.toRender);
  if (options.json)
    printJson({
      run: runId,
      frames,
      count: decision.toRender.count,
      ...(version === null ? {} : { version }),
      ...(options.also === undefined ? {} : { all: tasks }),
    });
  else
    print(
      `Run ${runId} renders ${frames}${version === null ? "" : ` in ${version}`} (${decision.toRender.count} frames${options.also === undefined ? "" : `; with ${options.also} ${tasks}`}).`,
    );
  if (!options.wait) return EXIT.fine;
  for (;;) {
    const run = await runById(pool(), runId);
    const counts = await runCounts(pool(), runId);
    if (run!.state === "done" || run!.state === "stopped") {
      if (!options.json)
        print(
          `Run ${runId} is ${run!.state}: ${counts.done} done, ${counts.failed} failed, ${counts.waiting} left.`,
        );
      return counts.failed + counts.waiting > 0 ? EXIT.frames : EXIT.fine;
    }
    await pause(500);
  }
}
