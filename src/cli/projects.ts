/** `plain-tally project`: projects made, told, renamed, archived and removed. */
import { whoCalls } from "./who";
import { projectFolder } from "@/server/files/paths";
import { changeProject, createProject, removeProject } from "@/server/actions/projects";
import { declaredRoots } from "@/server/configuration";
import { pool } from "@/server/db/pool";
import { rateOf } from "@/server/http/rate-of";
import { requireProject } from "@/server/store/find-shot";
import { listAllProjects } from "@/server/store/projects";
import { countShots } from "@/server/store/shots";
import { rateText } from "@/core/timing/rate";
import { checkPresetSettings } from "@/contract/plan";
import { faultText } from "@/contract/validate";
import { readPlanSetting } from "@/core/plan/plan-text";
import type { PresetSettings } from "@/core/plan/preset";
import { CallWrong, EXIT, type ExitCode, print, printJson } from "./command";
import { leftText } from "./left-text";

interface Told {
  readonly json?: boolean;
}

export interface ProjectAddOptions extends Told {
  readonly title?: string;
  readonly rate: string;
  /** The first that is declared, where it is left out. */
  readonly root?: string;
  /** Relative to the root; the project's name where it is left out. */
  readonly folder?: string;
}

/** What a project is, for programs. */
async function viewOf(slug: string) {
  const project = await requireProject(slug);
  const { title, rate } = project;
  return { slug: project.slug, title, rate, folder: projectFolder(project) };
}

export async function projectAddCommand(slug: string, options: ProjectAddOptions): Promise<ExitCode> {
  const root = options.root ?? Object.keys(declaredRoots())[0] ?? "frames";
  await createProject(
    {
      slug,
      title: options.title ?? slug,
      rate: rateOf(options.rate),
      root,
      folder: options.folder ?? slug,
    },
    whoCalls(),
  );
  const view = await viewOf(slug);
  if (options.json) printJson(view);
  else print(`${slug} is made, at ${rateText(view.rate)} frames a second, in ${view.folder}.`);
  return EXIT.fine;
}

export async function projectListCommand({
  json,
  all,
}: Told & { readonly all?: boolean }): Promise<ExitCode> {
  const shots = await countShots(pool());
  const roots = declaredRoots();
  const projects = (await listAllProjects(pool()))
    .filter((p) => all === true || !p.isArchived)
    .map((p) => ({
      slug: p.slug,
      title: p.title,
      rate: p.rate,
      folder: roots[p.root] === undefined ? null : projectFolder(p),
      shots: shots.get(p.id) ?? 0,
      archived: p.isArchived,
    }));
  if (json) printJson(projects);
  else
    for (const p of projects)
      print(
        `${p.slug}  ${p.title}  ${rateText(p.rate)} fps  ${p.shots} shots  ${p.folder ?? "its root is not declared here"}${p.archived ? "  (archived)" : ""}`,
      );
  return EXIT.fine;
}

export interface ProjectRenameOptions extends Told {
  readonly title?: string;
  readonly rate?: string;
}

export async function projectRenameCommand(
  slug: string,
  name: string | undefined,
  options: ProjectRenameOptions,
): Promise<ExitCode> {
  await changeProject(
    slug,
    {
      ...(name === undefined ? {} : { slug: name }),
      ...(options.title === undefined ? {} : { title: options.title }),
      ...(options.rate === undefined ? {} : { rate: rateOf(options.rate) }),
    },
    whoCalls(),
  );
  const view = await viewOf(name ?? slug);
  if (options.json) printJson(view);
  else
    print(
      `${view.slug} "${view.title}", ${rateText(view.rate)} frames a second; its files are where they were.`,
    );
  return EXIT.fine;
}

export async function projectArchiveCommand(
  slug: string,
  { json, undo }: Told & { readonly undo?: boolean },
): Promise<ExitCode> {
  await changeProject(slug, { isArchived: undo !== true }, whoCalls());
  if (json) printJson({ slug, archived: undo !== true });
  else print(undo === true ? `${slug} is back.` : `${slug} is archived: nothing of it is shown or watched.`);
  return EXIT.fine;
}

export async function projectRemoveCommand(
  slug: string,
  { json, stop }: Told & { readonly stop?: boolean },
): Promise<ExitCode> {
  const left = await removeProject(slug, { stopsRuns: stop === true }, whoCalls());
  if (json) printJson(left);
  else print(`${slug} is out of the tally. ${leftText(left)}`);
  return EXIT.fine;
}

export interface ProjectDefaultsOptions extends Told {
  /** key=value, any of the settings that presets keep. */
  readonly set: readonly string[];
  /** All is as usual again. */
  readonly usual?: boolean;
}

/** @throws CallWrong with the field for a setting that no preset keeps, or a value that it may not have */
function defaultsWith(before: PresetSettings, settings: readonly string[]): PresetSettings {
  let next: Record<string, unknown> = { ...before };
  for (const text of settings) {
    const read = readPlanSetting(text);
    if (!read.ok) throw new CallWrong(read.message);
    next = { ...next, [read.field]: read.value };
  }
  const checked = checkPresetSettings(next);
  if (!checked.ok) throw new CallWrong(faultText(checked.faults));
  return checked.value;
}

export async function projectDefaultsCommand(
  slug: string,
  { set, usual, json }: ProjectDefaultsOptions,
): Promise<ExitCode> {
  const before = (await requireProject(slug)).defaults;
  const defaults = defaultsWith(usual === true ? {} : before, set);
  if (set.length > 0 || usual === true) await changeProject(slug, { defaults }, whoCalls());
  if (json) printJson({ slug, defaults });
  else if (Object.keys(defaults).length === 0)
    print(`Plans of new shots of ${slug} begin with what is usual.`);
  else
    for (const [field, value] of Object.entries(defaults))
      print(`${field}=${typeof value === "string" ? value : JSON.stringify(value)}`);
  return EXIT.fine;
}
