/** `plain-tally plan`: tells the plan of a shot, or saves its next revision. */
import { whoCalls } from "./who";
import { checkPlanShape } from "@/contract/plan";
import { faultText } from "@/contract/validate";
import { type Plan, readPlan, versionName } from "@/core/plan/plan";
import { formatPhrase, parsePhrase } from "@/core/frames/phrase";
import type { Marker } from "@/core/plan/notes";
import { readPlanSetting } from "@/core/plan/plan-text";
import { markerSets, stretchNames } from "@/core/tally/names";
import { openVersion, saveRevision } from "@/server/actions/save-plan";
import { pool } from "@/server/db/pool";
import { TallyError } from "@/server/errors";
import { requireShot } from "@/server/store/find-shot";
import { latestRevision } from "@/server/store/shots";
import { CallWrong, EXIT, type ExitCode, print, printJson } from "./command";
import { findSequence, type SequenceOptions } from "./shots";

export interface PlanOptions extends SequenceOptions {
  readonly set: readonly string[];
  /** Opens the next version with it, whatever has changed. */
  readonly newVersion?: boolean;
  readonly json?: boolean;
}

/** Options that are told: what has no value is as usual. */
const withoutNothing = (options: object): object =>
  Object.fromEntries(Object.entries(options).filter(([, value]) => value !== null));

/** @throws CallWrong with the field for a value that no plan may have */
function planWith(plan: Plan, settings: readonly string[], markers: readonly Marker[]): Plan {
  let next: Record<string, unknown> = { ...plan };
  for (const text of settings) {
    const read = readPlanSetting(text);
    if (!read.ok) throw new CallWrong(read.message);
    next =
      read.field === "options"
        ? { ...next, options: withoutNothing({ ...(next.options as object), ...(read.value as object) }) }
        : { ...next, [read.field]: read.value };
  }
  const shape = checkPlanShape(next);
  if (!shape.ok) throw new CallWrong(faultText(shape.faults));
  const wanted = inNumbers(shape.value, markers);
  const whole = readPlan(wanted);
  if (!whole.ok) throw new CallWrong(`${whole.faults[0]!.field}: ${whole.faults[0]!.message}`);
  return wanted;
}

/** A plan keeps numbers: a stretch is what it is now. What can be read without a shot stays as it was written. */
function inNumbers(plan: Plan, markers: readonly Marker[]): Plan {
  if (parsePhrase(plan.frames).ok) return plan;
  const named = parsePhrase(plan.frames, stretchNames(markerSets(markers, plan)));
  return named.ok ? { ...plan, frames: formatPhrase(named.set) } : plan;
}

/** Sentences of an action name the field where a person looks: on a command line it stands before them. */
async function told<T>(work: Promise<T>): Promise<T> {
  try {
    return await work;
  } catch (error) {
    if (!(error instanceof TallyError) || error.faults.length === 0) throw error;
    throw new CallWrong(error.faults.map((f) => `${f.field}: ${f.message}`).join("; "));
  }
}

export async function planCommand(code: string, options: PlanOptions): Promise<ExitCode> {
  const sequence = await findSequence(code, options);
  const revision = (await latestRevision(pool(), sequence.versionId))!;
  const name = `${sequence.project}/${sequence.shot}`;
  if (options.set.length === 0 && options.newVersion !== true) {
    if (options.json)
      printJson({ version: versionName(sequence), revision: revision.number, plan: revision.plan });
    else
      for (const [field, value] of Object.entries(revision.plan))
        print(`${field}=${typeof value === "string" ? value : JSON.stringify(value)}`);
    return EXIT.fine;
  }
  const { shot } = await requireShot(name);
  const plan = planWith(revision.plan, options.set, shot.markers);
  const saved = await told(
    options.newVersion === true
      ? openVersion(name, plan, sequence.purpose, null, whoCalls())
      : saveRevision(name, sequence.versionId, plan, revision.number, {}, whoCalls()),
  );
  const version = versionName(saved.version);
  if (options.json)
    printJson({ project: sequence.project, shot: sequence.shot, version, revision: saved.revision.number });
  else print(`${name} ${version} has plan revision ${saved.revision.number}.`);
  return EXIT.fine;
}
