/** `plain-tally shot` and `plain-tally edit`: shots made, told, changed, brought in from lists and edits. */
import { whoCalls } from "./who";
import fs from "node:fs/promises";
import path from "node:path";
import type { MadeShotView, ShotImport } from "@/contract/shot-import";
import { BOUNDS } from "@/contract/bounds";
import { parsePhrase } from "@/core/frames/phrase";
import { firstOf, lastOf } from "@/core/frames/frame-set";
import { versionName } from "@/core/plan/plan";
import { readMarkers, writeMarkers, writeMarkerTable } from "@/core/plan/marker-text";
import { STAND_IN } from "@/core/plan/renderer";
import { BLANK_WISH, type ShotWish } from "@/core/plan/shot-wish";
import { bringInEdit } from "@/server/actions/bring-in-edit";
import { bringInList, bringInShots } from "@/server/actions/bring-in-shots";
import { removeShot } from "@/server/actions/remove-shot";
import { changeShot, duplicateShot } from "@/server/actions/shots";
import { pool } from "@/server/db/pool";
import { sequencePlace } from "@/server/files/layout";
import { TallyError } from "@/server/errors";
import { requireProject, requireShot } from "@/server/store/find-shot";
import { listProjects } from "@/server/store/projects";
import { listAllShots, sequencesOfVersion } from "@/server/store/shots";
import { currentSequence } from "@/server/views/current-sequence";
import { CallWrong, complain, EXIT, type ExitCode, print, printJson, wholeNumber } from "./command";
import { leftText } from "./left-text";
import { projectOf } from "./project-of";

interface Told {
  readonly json?: boolean;
}

/** A shot for programs: where its frames go. */
async function viewOf(name: string): Promise<MadeShotView> {
  const { shot, project } = await requireShot(name);
  const sequence = (await currentSequence(shot.id))!;
  const sequences = await sequencesOfVersion(pool(), sequence.versionId);
  return {
    code: shot.code,
    project: project.slug,
    version: versionName(sequence),
    sequences: sequences.map((s) => ({ camera: s.camera, pass: s.pass, folder: sequencePlace(s) })),
  };
}

const readList = (text: string): readonly string[] => text.split(",").map((part) => part.trim());

/** One stretch of whole frames: a shot's time line has no holes. */
function readTimeLine(text: string): { readonly first: number; readonly last: number } {
  const read = parsePhrase(text);
  if (!read.ok) throw new CallWrong(`--frames: ${read.error.message}`);
  const [first, last] = [firstOf(read.set), lastOf(read.set)];
  if (first === null || last === null || read.set.count !== last - first + 1)
    throw new CallWrong(`--frames must be one stretch without a step, such as 1-96; it is "${text}"`);
  return { first, last };
}

export interface ShotAddOptions extends Told {
  readonly project?: string;
  readonly title?: string;
  readonly scene?: string;
  readonly renderer?: string;
  readonly frames?: string;
  readonly cameras?: string;
}

/** The first thing that is wrong, as an error of the call. */
function requireRight({ wrong }: ShotImport): void {
  if (wrong.length > 0) throw new CallWrong(wrong[0]!.message);
}

export async function shotAddCommand(code: string, options: ShotAddOptions): Promise<ExitCode> {
  const slug = await projectOf(options.project);
  const wish: ShotWish = {
    ...BLANK_WISH,
    code,
    title: options.title ?? null,
    scene: options.scene ?? null,
    renderer: options.renderer ?? STAND_IN,
    timeLine: options.frames === undefined ? null : readTimeLine(options.frames),
    cameras: options.cameras === undefined ? null : readList(options.cameras),
  };
  const dry = await bringInShots(slug, [wish], { isDry: true });
  requireRight(dry);
  if (dry.made.length === 0) throw new CallWrong(`${slug}/${code} is there already; choose another name.`);
  requireRight(await bringInShots(slug, [wish], { isDry: false, who: whoCalls() }));
  const view = await viewOf(`${slug}/${code}`);
  if (options.json) printJson(view);
  else {
    print(`${slug}/${view.code} ${view.version} is made.`);
    for (const s of view.sequences) print(`${s.camera} ${s.pass}: ${s.folder}`);
  }
  return EXIT.fine;
}

export async function shotListCommand(options: Told & { readonly project?: string; readonly all?: boolean }) {
  const slugs =
    options.project === undefined
      ? (await listProjects(pool())).map((p) => p.slug)
      : [await projectOf(options.project)];
  const shots = [];
  for (const slug of slugs) {
    const project = await requireProject(slug);
    for (const shot of await listAllShots(pool(), project.id))
      if (options.all === true || !shot.isArchived)
        shots.push({
          project: slug,
          code: shot.code,
          title: shot.title,
          first: shot.firstFrame,
          last: shot.lastFrame,
          markers: shot.markers,
          archived: shot.isArchived,
        });
  }
  if (options.json) printJson(shots);
  else
    for (const s of shots)
      print(`${s.project}/${s.code}  ${s.first}-${s.last}  ${s.title}${s.archived ? "  (archived)" : ""}`);
  return EXIT.fine;
}

export async function shotRenameCommand(
  name: string,
  code: string | undefined,
  options: Told & { readonly title?: string },
): Promise<ExitCode> {
  const { project, shot } = await requireShot(name);
  const whole = `${project.slug}/${shot.code}`;
  if (code === undefined && options.title === undefined)
    throw new CallWrong("say the new code, or --title, or both");
  const { kept } = await changeShot(
    whole,
    {
      ...(code === undefined ? {} : { code }),
      ...(options.title === undefined ? {} : { title: options.title }),
    },
    whoCalls(),
  );
  const renamed = `${project.slug}/${code ?? shot.code}`;
  if (options.json) printJson({ ...(await viewOf(renamed)), kept });
  else
    print(
      kept.length === 0
        ? `${renamed} is changed.`
        : `${whole} is called ${renamed} now; what it has stays under ${kept.join(", ")}, its next version takes the new name.`,
    );
  return EXIT.fine;
}

export interface ShotSoundOptions extends Told {
  /** A file, relative to the project's folder. */
  readonly set?: string;
  /** Seconds. */
  readonly offset?: string;
  readonly none?: boolean;
}

/** Tells the sound of a shot, sets it, moves it, or takes it away. */
export async function shotSoundCommand(
  name: string,
  { set, offset, none, json }: ShotSoundOptions,
): Promise<ExitCode> {
  const { project, shot } = await requireShot(name);
  const seconds = offset === undefined ? (shot.sound?.offset ?? 0) : Number(offset);
  const path = set ?? shot.sound?.path;
  if (none === true && (set ?? offset) !== undefined)
    throw new CallWrong("--none takes the sound away: nothing else can be said with it");
  if (offset !== undefined && (offset.trim() === "" || !Number.isFinite(seconds)))
    throw new CallWrong(`--offset must be seconds such as 0.5 or -2; it is "${offset}"`);
  if (offset !== undefined && path === undefined)
    throw new CallWrong(`${shot.code} has no sound to move: give --set FILE, too`);
  if ((none ?? set ?? offset) !== undefined)
    await changeShot(
      `${project.slug}/${shot.code}`,
      { sound: none === true ? null : { path: path!, offset: seconds } },
      whoCalls(),
    );
  const { sound } = (await requireShot(name)).shot;
  if (json) printJson(sound);
  else
    print(
      sound === null ? `${shot.code} has no sound.` : `${sound.path}, ${sound.offset} s after its beginning`,
    );
  return EXIT.fine;
}

export interface ShotMarkersOptions extends Told {
  /** A file of lines or a table; - for standard input. */
  readonly set?: string;
  /** As a table. */
  readonly csv?: boolean;
}

/** Tells the stretches of a shot, or sets all of them. */
export async function shotMarkersCommand(
  name: string,
  { set, csv, json }: ShotMarkersOptions,
): Promise<ExitCode> {
  const { project, shot } = await requireShot(name);
  if (set !== undefined) {
    const { markers, wrong } = readMarkers(await readText(set, BOUNDS.shotListText));
    if (wrong.length > 0)
      throw new CallWrong(wrong.map(({ line, message }) => `line ${line}: ${message}`).join("; "));
    await changeShot(`${project.slug}/${shot.code}`, { markers }, whoCalls());
  }
  const { markers } = (await requireShot(name)).shot;
  if (json)
    printJson(markers.map((marker) => ({ name: marker.name, first: marker.first, last: marker.end - 1 })));
  else if (markers.length > 0)
    print(csv === true ? writeMarkerTable(markers).trimEnd() : writeMarkers(markers));
  return EXIT.fine;
}

interface Done {
  /** For programs. */
  readonly value: object;
  /** For people. */
  readonly text: string;
}

/** Several at once: what cannot be done with one is told, and the others are done. */
async function forEachShot(
  names: readonly string[],
  isJson: boolean,
  work: (name: string) => Promise<Done>,
): Promise<ExitCode> {
  const done: Done[] = [];
  for (const name of names) {
    try {
      const { project, shot } = await requireShot(name);
      done.push(await work(`${project.slug}/${shot.code}`));
    } catch (error) {
      if (!(error instanceof TallyError)) throw error;
      complain(`${name}: ${error.message}`);
    }
  }
  if (isJson) printJson(done.map(({ value }) => value));
  else for (const { text } of done) print(text);
  return done.length === names.length ? EXIT.fine : EXIT.call;
}

export const shotArchiveCommand = (
  names: readonly string[],
  { undo = false, json = false }: Told & { readonly undo?: boolean },
): Promise<ExitCode> =>
  forEachShot(names, json, async (name) => {
    await changeShot(name, { isArchived: !undo }, whoCalls());
    return {
      value: { shot: name, archived: !undo },
      text: undo ? `${name} is back.` : `${name} is archived.`,
    };
  });

export const shotRemoveCommand = (names: readonly string[], { json = false }: Told): Promise<ExitCode> =>
  forEachShot(names, json, async (name) => {
    const left = await removeShot(name, whoCalls());
    return { value: { shot: name, ...left }, text: `${name} is out of the tally. ${leftText(left)}` };
  });

export async function shotCopyCommand(name: string, code: string, options: Told): Promise<ExitCode> {
  const { project, shot } = await requireShot(name);
  await duplicateShot(`${project.slug}/${shot.code}`, code, null, whoCalls());
  const view = await viewOf(`${project.slug}/${code}`);
  if (options.json) printJson(view);
  else print(`${project.slug}/${code} has the plan of ${shot.code}, and none of its frames.`);
  return EXIT.fine;
}

export interface ImportOptions extends Told {
  readonly project?: string;
  readonly dryRun?: boolean;
}

/** The text of a file that a person names; `-` is standard input. */
async function readText(file: string, mostBytes: number): Promise<string> {
  if (file !== "-") {
    const stat = await fs.stat(file).catch((error: NodeJS.ErrnoException) => {
      throw new CallWrong(`${file} cannot be read (${error.code})`);
    });
    if (!stat.isFile() || stat.size > mostBytes) throw new CallWrong(`${file} is no list, or far too long`);
    return fs.readFile(file, "utf8");
  }
  const parts: Buffer[] = [];
  for await (const part of process.stdin) parts.push(part as Buffer);
  return Buffer.concat(parts).toString("utf8");
}

/** Line by line, as the page shows it. */
function printImport(brought: ShotImport, isDry: boolean): void {
  const would = isDry ? "would be " : "";
  for (const { code, first, last, isSceneThere, scene } of brought.made)
    print(
      `${code} ${first}-${last} ${would}made${isSceneThere ? "" : `; its scene ${scene} is not there yet`}`,
    );
  for (const { code, changes } of brought.changed) print(`${code} ${would}changed: ${changes.join("; ")}`);
  if (brought.unchanged.length > 0) print(`${brought.unchanged.length} as they are`);
  for (const { line, message } of brought.wrong) print(`${line === null ? "" : `line ${line}: `}${message}`);
}

const codeOfImport = ({ wrong }: ShotImport): ExitCode => (wrong.length > 0 ? EXIT.call : EXIT.fine);

export async function shotImportCommand(file: string, options: ImportOptions): Promise<ExitCode> {
  const slug = await projectOf(options.project);
  const text = await readText(file, BOUNDS.shotListText);
  const brought = await bringInList(slug, text, options.dryRun === true, whoCalls());
  if (options.json) printJson(brought);
  else printImport(brought, options.dryRun === true);
  return codeOfImport(brought);
}

export async function editCommand(
  file: string,
  options: ImportOptions & { readonly handles: string },
): Promise<ExitCode> {
  const slug = await projectOf(options.project);
  const handles = wholeNumber(options.handles, "--handles", 0);
  const brought = await bringInEdit(
    slug,
    {
      name: path.basename(file),
      text: await readText(file, BOUNDS.listText),
      handles,
      isDry: options.dryRun === true,
    },
    whoCalls(),
  );
  if (options.json) printJson(brought);
  else {
    printImport(brought, options.dryRun === true);
    for (const n of brought.needed)
      print(`${n.code}: ${n.frames} newly shown, ${n.missing} of ${n.count} have no good frame`);
    if (brought.shorter.length > 0)
      print(`less is shown of ${brought.shorter.join(", ")}; nothing is taken away`);
    if (brought.gone.length > 0) print(`no longer in the edit: ${brought.gone.join(", ")}`);
  }
  return codeOfImport(brought);
}
