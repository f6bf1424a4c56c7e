/**
 * Every fault that a person can meet, in one table: its sentence, the HTTP status, the exit code of
 * the command line, and where to look for the cause. Codes are stable: pages, tests and logs know
 * them. Nothing else in the house decides one of these by how a code is spelled.
 */
import {
  conflict,
  type FaultKind,
  house,
  outOfSight,
  place,
  render,
  type Say,
  scene,
  unknown,
  wrong,
} from "./fault-kinds";
import { CLUSTER_FAULTS } from "./cluster-faults";
import { NETWORK_FAULTS } from "./network-faults";

interface Told {
  readonly message: string;
}
/** The line that makes a folder elsewhere one that may be used, ready to be copied. */
const declareText = (path: string): string =>
  `To use a folder elsewhere, declare it on the server: npx plain-tally root add NAME ${path.startsWith("/") ? quoted(path) : "/folder"}`;
/** As a shell takes it for one word. */
const quoted = (path: string): string =>
  /^[\w./-]+$/.test(path) ? path : `'${path.replaceAll("'", "'\\''")}'`;

const told: Say<Told> = ({ message }) => message;

/**
 * The table. Adding a fault is adding a row: nothing else in the house knows statuses, exit codes or
 * sentences.
 */
export const FAULTS = {
  ...NETWORK_FAULTS,
  ...CLUSTER_FAULTS,
  // What is asked for is not there.
  "project-unknown": unknown<{ slug: string | null }>(({ slug }) =>
    slug === null ? "There is no project yet." : `There is no project ${slug}.`,
  ),
  "shot-unknown": unknown<{ shot: string }>(({ shot }) => `There is no shot ${shot}.`),
  "shot-ambiguous": {
    ...unknown<{ code: string; names: readonly string[] }>(
      ({ code, names }) => `Several projects have a shot ${code}: ${names.join(", ")}. Say which.`,
    ),
    status: 409,
  },
  "version-unknown": unknown("This version does not exist."),
  "version-not-of-shot": unknown<{ shot: string; name: string }>(
    ({ shot, name }) => `${shot} has no version ${name}.`,
  ),
  "sequence-unknown": unknown("This sequence does not exist (any more)."),
  "sequence-not-of-shot": unknown<{ shot: string }>(
    ({ shot }) => `${shot} has no such version, camera or pass.`,
  ),
  "sequence-not-planned": unknown("The saved plan asks for no such sequence."),
  "run-unknown": unknown("This run does not exist."),
  "proof-unknown": unknown("This proof does not exist."),
  "hand-out-unknown": unknown("This run was not handed out."),
  "share-unknown": unknown<{ machine: string }>(({ machine }) => `${machine} has nothing of this run.`),
  "node-unknown": unknown<{ name: string }>(({ name }) => `There is no node named ${name}.`),
  "preset-unknown": unknown("This preset does not exist (any more)."),
  "picture-none": unknown<{ frame: number }>(({ frame }) => `Frame ${frame} has no file.`),
  "picture-not-yet": unknown<{ frame: number }>(({ frame }) => `There is no picture of frame ${frame} yet.`),
  "picture-gone": unknown<{ what: string }>(({ what }) => `The file of ${what} is gone.`),
  "picture-other": unknown<{ what: string }>(({ what }) => `There is another picture of ${what} by now.`),
  "proof-none": unknown<{ frame: number }>(({ frame }) => `There is no proof of frame ${frame}.`),
  "case-open": conflict<{ frames: string }>(
    ({ frames }) => `Not closed: ${frames} were made anew and are still to be accepted, or undone.`,
  ),
  "replaced-none": conflict(
    "Of none of these frames a replaced file is kept that could be accepted or put back; frames in work are left alone.",
  ),
  "before-none": unknown<{ frame: number }>(({ frame }) => `Frame ${frame} has no file from before.`),
  "before-other": unknown<{ frame: number }>(
    ({ frame }) => `There is another file from before of frame ${frame} by now.`,
  ),

  // Somebody or something was quicker.
  "plan-outdated": conflict<{ saved: number; basedOn: number }>(
    ({ saved, basedOn }) =>
      `Somebody saved revision ${saved} meanwhile; yours was made from revision ${basedOn}. Look at what has changed, then save again.`,
  ),
  "plan-fixed": conflict(
    "Files with the old setting exist in this version: open the next version for this change, or put it back.",
  ),
  "plan-saved-meanwhile": conflict(
    "The plan was saved while the run started: look at what it would render now, then start again.",
  ),
  "run-not-active": conflict("This run has ended already."),
  "run-active": conflict("This run goes on already."),
  "run-not-stopped": conflict("This run goes on: stop it first, then go on with the newest plan."),
  "run-waits-round": wrong<{ id: number; after: number }>(({ id, after }) =>
    id === after
      ? `Run ${id} cannot wait for itself.`
      : `Run ${after} waits for run ${id} itself: of the two none would ever begin.`,
  ),
  "run-finished": conflict("This run has nothing left."),
  "scene-changed": { ...scene("The scene was saved while the run started; start it again."), status: 409 },
  "frame-not-in-work": wrong<{ frame: number }>(({ frame }) => `Frame ${frame} is not in work any more.`),
  "node-let-in": wrong("This node was let in again already."),

  // The request itself.
  "address-wrong": wrong(told),
  "who-wrong": wrong<{ fault: string }>(({ fault }) => `The name of who does this ${fault}.`),
  "body-broken": wrong("The request is not JSON."),
  "body-too-large": {
    ...wrong<{ most: number }>(({ most }) => `The request is larger than ${most / 1e6} MB.`),
    status: 413,
  },
  "body-wrong": wrong(told),
  "phrase-wrong": wrong(told),
  "plan-wrong": wrong(told),
  "plan-unchanged": wrong("Nothing has changed since the last revision."),
  "project-wrong": wrong(told),
  "shot-wrong": wrong(told),
  "folder-shared": wrong<{ folder: string; other: string }>(
    ({ folder, other }) =>
      `${folder} lies in the folder of the project ${other}, or holds it; each project needs a folder of its own.`,
  ),
  "name-on-disk": wrong<{ code: string; shot: string }>(
    ({ code, shot }) =>
      `Frames of ${shot} lie in the folder ${code}, as it was called before; choose another code.`,
  ),
  "sound-wrong": wrong<{ message: string }>(({ message }) => message),
  "sound-missing": unknown<{ path: string }>(
    ({ path }) => `The sound ${path} is not in the project's folder.`,
  ),
  "shot-at-work": conflict<{ shot: string; runs: readonly number[] }>(
    ({ shot, runs }) => `${shot} is in work: stop run ${runs.join(", ")} first. Nothing was changed.`,
  ),
  "frames-unsaid": wrong<{ scene: string }>(
    ({ scene }) => `${scene} does not say how long it is: give the first and the last frame.`,
  ),
  "name-taken": wrong<{ what: string }>(({ what }) => `${what} is there already; choose another name.`),
  "preset-broken": wrong(told),
  "preset-name-taken": wrong<{ name: string }>(
    ({ name }) => `There is a preset called ${name} already; choose another name.`,
  ),
  "edit-unreadable": wrong(told),
  "edit-matches-nothing": wrong<{ file: string; project: string; names: string }>(
    ({ file, project, names }) =>
      `${file}: no clip bears the name of a shot of ${project}; it names ${names}.`,
  ),
  "path-outside-root": wrong<{ path: string }>(
    ({ path }) => `"${path}" leads out of the project's folder. ${declareText(path)}`,
  ),
  "root-wrong": wrong(told),
  "file-there": conflict<{ name: string }>(({ name }) => `${name} is there already. Nothing was replaced.`),
  "file-part-wrong": conflict<{ name: string }>(
    ({ name }) => `Parts of ${name} did not come in order, or another page brings it too: bring it again.`,
  ),
  "file-too-large": wrong<{ name: string; mostBytes: number }>(
    ({ name, mostBytes }) =>
      `${name} is larger than ${(mostBytes / 1e9).toFixed(1)} GB, too much to bring by a page: copy it into the project's folder instead.`,
  ),
  "file-name-wrong": wrong<{ name: string; fault: string }>(
    ({ name, fault }) => `The name "${name}" ${fault}; rename the file, then bring it again.`,
  ),
  "odd-gone": conflict(
    "None of these is odd any more: their files were made anew, or a threshold was changed. Nothing was judged.",
  ),
  "no-file-to-flag": wrong("None of these frames has a file; a flag needs a picture to be about."),
  "picture-not-wanted": wrong("Nobody waits for this picture any more."),
  "edit-none": unknown<{ project: string }>(
    ({ project }) => `No edit of ${project} was read yet: bring one in where shots are added.`,
  ),
  "edit-too-long": wrong(
    "The edit is longer than two hours, and is not played as one: its clips may lie far apart.",
  ),
  "pictures-busy": wrong("Too many pictures are asked for at once; look again in a moment."),
  "thumbnails-busy": wrong("Too many small pictures are asked for at once; look again in a moment."),

  // Starting and changing runs.
  "preflight-stops": wrong("The preflight has points that must be mended first."),
  "nothing-to-render": wrong("Nothing of this needs rendering under this choice."),
  "frames-not-planned": wrong<{ frames: string; asked: string }>(
    ({ frames, asked }) =>
      `The plan does not ask for ${frames}: it asks for ${asked}. Save a plan that does, then start again.`,
  ),
  "nothing-to-prove": wrong("This leaves no frame to prove."),
  "too-many-proofs": wrong<{ frames: number; most: number }>(
    ({ frames, most }) => `${frames} proof frames are more than ${most}: that is a run.`,
  ),
  "proofs-do-not-fit": wrong(
    "None of these pictures can be used: the saved plan would make others, or their frames are there already.",
  ),
  "version-retired": wrong<{ retired: string; chosen: string | null }>(
    ({ retired, chosen }) =>
      `${retired} is retired${chosen === null ? "" : ` since ${chosen} was chosen`}: open it again, or run ${chosen ?? "another version"}.`,
  ),
  "version-in-use": conflict<{ name: string; holds: string }>(
    ({ name, holds }) => `${name} cannot be taken out: ${holds}. Nothing was changed.`,
  ),
  "versions-retired": wrong("All that this run covers is retired: open a version again first."),
  "run-handed-out": wrong(
    "Its frames are with machines that are not connected: take back what is to change, and start a run with it.",
  ),
  "run-other-plan": wrong<{ fields: readonly string[] }>(
    ({ fields }) =>
      `The plan has changed since this run began (${fields.join(", ")}): its frames would not be of one look. Start a run of its own for what is new.`,
  ),
  "hand-out-of-one": wrong(
    "A hand-out is of all sequences of one version: the machines render from one plan file.",
  ),
  "share-phrase": wrong<{ machine: string } & Told>(({ machine, message }) => `${machine}: ${message}`),
  "machine-twice": wrong<{ machine: string }>(
    ({ machine }) => `${machine} is named twice: write its frames in one line.`,
  ),
  "share-empty": wrong<{ machine: string }>(
    ({ machine }) => `Nothing of what ${machine} would get needs rendering.`,
  ),
  "shares-overlap": wrong<{ frames: string }>(({ frames }) => `${frames} would go to two machines.`),

  // Scene, plan, and the files that they name.
  "scene-missing": {
    ...scene<{ file: string; errno: string | undefined }>(
      ({ file, errno }) => `The scene file ${file} cannot be read (${errno}).`,
    ),
    blame: "place",
  },
  "scene-broken": scene(told),
  "scene-undescribed": scene<{ renderer: string; why: string }>(
    ({ renderer, why }) => `The renderer ${renderer} does not say what is in this scene: ${why}.`,
  ),
  "scene-writes-no-pictures": scene(
    "The scene says lighting.only: it would gather its light and write no pictures. Take that out of the scene file.",
  ),
  "scene-other": scene<{ other: readonly string[] }>(
    ({ other }) => `Not what was handed out: ${other.join(", ")}. Its frames would be out of date.`,
  ),
  "texture-missing": {
    ...scene<{ file: string }>(({ file }) => `The scene needs ${file}, and it is not there.`),
    blame: "place",
  },
  "unknown-camera": {
    ...scene<{ camera: string }>(({ camera }) => `The scene has no camera "${camera}".`),
    exit: 2,
  },
  "plan-missing": scene("This version has no plan yet."),
  "plan-unreadable": scene<{ revision: number } & Told>(
    ({ revision, message }) => `Revision ${revision} of the plan cannot be read: ${message}`,
  ),
  "renderer-unknown": {
    ...scene<{ renderer: string }>(
      ({ renderer }) => `The configuration file declares no renderer "${renderer}" on this machine.`,
    ),
    exit: 2,
  },
  "root-unknown": {
    ...scene<{ root: string }>(
      ({ root }) =>
        `The storage root "${root}" is not declared on this machine. Declare it there: npx plain-tally root add ${root} /its/folder`,
    ),
    exit: 2,
  },
  "folder-unreadable": place<{ folder: string; errno: string | undefined }>(
    ({ folder, errno }) =>
      `The folder ${folder} cannot be read (${errno}). Frames in it are not lost; mend the folder or the share, then try again.`,
  ),
  "folder-missing": wrong<{ folder: string; errno: string | undefined }>(
    ({ folder, errno }) => `There is no folder ${folder} (${errno}).`,
  ),
  "folder-outside-roots": wrong<{ folder: string }>(
    ({ folder }) => `${folder} lies below no root that is declared. ${declareText(folder)}`,
  ),
  "nothing-to-take-in": wrong<{ folder: string }>(
    ({ folder }) => `There are no numbered pictures in ${folder}, nor in the folders below it.`,
  ),
  "sequences-known": conflict<{ known: string }>(
    ({ known }) => `These files are in the tally already, as ${known}. Nothing was changed.`,
  ),
  "found-gone": conflict<{ name: string; folder: string }>(
    ({ name, folder }) => `${name} is not in ${folder} any more: look at the folder again.`,
  ),
  "sequence-not-watched": conflict<{ shot: string }>(
    ({ shot }) => `The frames of ${shot} are rendered here: what made them is known without a log.`,
  ),
  "scene-elsewhere": conflict("The frames are rendered elsewhere: there is no scene of them here."),
  "version-watched": conflict<{ shot: string }>(
    ({ shot }) =>
      `The frames of this version of ${shot} are rendered elsewhere, and nothing of ours is written among them. To render here, open the next version.`,
  ),
  "source-out-of-sight": outOfSight,
  "project-out-of-sight": outOfSight,
  "picture-unreadable": place<{ file: string; why: string }>(
    ({ file, why }) => `${file} cannot be shown: ${why}.`,
  ),

  // The renderer.
  "time-out": render<{ seconds: number }>(
    ({ seconds }) =>
      `The renderer took longer than ${seconds} s, which the configuration allows a frame, and was ended.`,
  ),
  "took-too-long": render<{ seconds: number }>(
    ({ seconds }) => `The frame took longer than ${seconds} s, ten times what the frames beside it say.`,
  ),
  "renderer-hangs": render<{ seconds: number }>(
    ({ seconds }) => `The renderer said nothing for ${seconds} s and was ended.`,
  ),
  "memory-limit": render<{ usedMb: number; limitMb: number }>(
    ({ usedMb, limitMb }) => `The renderer used ${usedMb} MB of memory; this node allows ${limitMb} MB.`,
  ),
  "program-missing": render<Told>(({ message }) => `The renderer cannot be called: ${message}`),
  "renderer-failed": render<{ how: string; said: string }>(
    ({ how, said }) => `The renderer ended with ${how}.${said}`,
  ),
  "no-picture": render<{ picture: string; said: string }>(
    ({ picture, said }) => `The renderer ended without complaint, but ${picture}.${said}`,
  ),
  "engine-died": render<{ how: string }>(
    ({ how }) => `The renderer ended in the middle of the frame (${how}).`,
  ),
  "engine-error": render(told),
  "wrote-damaged-file": render<{ what: string; detail: string | null }>(
    ({ what, detail }) => `${what} that was just written is damaged${detail === null ? "" : `: ${detail}`}.`,
  ),
  "guide-unreadable": render<{ file: string }>(
    ({ file }) => `${file} cannot be read: the frame must be rendered again.`,
  ),
  orphaned: render("The node of this render is gone."),
  stopped: render("The render was stopped."),
  "task-kind-not-here": render<{ kind: string }>(
    ({ kind }) => `This node cannot do a task of kind "${kind}".`,
  ),
  "node-error": render(told),

  // Handing over.
  "handover-unknown": unknown("This handover does not exist (any more)."),
  "handover-wrong": wrong(told),
  "handover-over": conflict("This handover is over already."),
  "handover-under-way": conflict("This handover is under way: stop it first."),
  "handover-no-frames": { ...wrong("The phrase leaves no frame: there is nothing to hand over."), exit: 1 },
  "handover-troubles": {
    ...wrong<{ troubles: readonly string[] }>(
      ({ troubles }) =>
        `Not every frame can be handed over: ${troubles.join("; ")}. Patch them, or choose what stands in their place: hold the frame before, or a card with the number.`,
    ),
    exit: 1,
  },
  "handover-damaged": {
    ...wrong<{ files: readonly string[] }>(
      ({ files }) =>
        `The deep check found damage, and nothing was handed over: ${files.join("; ")}. Patch them.`,
    ),
    exit: 1,
  },
  "handover-nothing-there": {
    ...wrong("None of these frames has a picture that can be handed over."),
    exit: 1,
  },
  "handover-picture-gone": {
    ...wrong<{ file: string }>(({ file }) => `${file} went away while it was handed over; nothing was kept.`),
    exit: 1,
  },
  "handover-picture-other": {
    ...wrong<{ file: string }>(
      ({ file }) => `${file} was replaced while it was handed over; nothing was kept. Hand over again.`,
    ),
    exit: 1,
  },
  "handover-picture-size": {
    ...wrong<{ file: string; is: string; wanted: string }>(
      ({ file, is, wanted }) => `${file} has ${is} pixels among pictures of ${wanted}.`,
    ),
    exit: 1,
  },
  "handover-taken": conflict<{ path: string }>(
    ({ path }) => `${path} is there already, and nothing is replaced: choose another name.`,
  ),
  "handover-copy-differs": {
    ...wrong<{ file: string }>(({ file }) => `The copy of ${file} is not what was copied.`),
    exit: 1,
  },
  "ffmpeg-missing": {
    ...wrong<{ program: string }>(
      ({ program }) =>
        `${program} is not there, and movies need it: install the package ffmpeg (apt-get install ffmpeg) where the node runs.`,
    ),
    exit: 3,
  },
  "ffmpeg-no-encoder": {
    ...wrong<{ codec: string; encoders: readonly string[] }>(
      ({ codec, encoders }) =>
        `The installed ffmpeg cannot make ${codec}: it lacks ${encoders.join(" and ")}. Install a fuller ffmpeg, or choose another kind of movie.`,
    ),
    exit: 3,
  },
  "ffmpeg-failed": {
    ...wrong<{ how: string; said: string }>(({ how, said }) => `ffmpeg ended with ${how}.${said}`),
    exit: 3,
  },
  "movie-other": {
    ...wrong<{ faults: readonly string[] }>(
      ({ faults }) => `The movie is not what was asked for, and was not kept: ${faults.join("; ")}.`,
    ),
    exit: 3,
  },

  // Files, by what the system says of them.
  "file-enoent": place(told),
  "file-enotdir": place(told),
  "file-eacces": place(told),
  "file-eperm": place(told),
  "file-erofs": place(told),
  "file-eio": place(told),
  "file-estale": place(told),
  "file-enodev": place(told),
  "file-enxio": place(told),
  "file-ehostdown": place(told),
  "file-etimedout": place(told),
  "file-eisdir": render(told),
  "file-ebusy": render(told),
  "file-etxtbsy": render(told),
  "file-enospc": { ...place(told), blame: "disk" },
  "file-edquot": { ...place(told), blame: "disk" },
  /** Anything else that the system has against a file: the frame's own matter. */
  "file-other": render(told),

  // Our own house.
  "no-database": house(
    "No database is known: start it (`plain-tally start`, in a checkout `npm start` or `npm run demo`), or set PLAIN_TALLY_DATABASE_URL.",
  ),
  "database-away": house(
    "The database does not answer. Nothing is lost; this page goes on by itself when it is back.",
  ),
  "database-newer": house<{ names: readonly string[] }>(
    ({ names }) =>
      `The database was made by a newer Plain Tally (it has ${names.join(", ")}); update this checkout.`,
  ),
  "database-earlier": house(
    "The database was made by an earlier schema: `npm run demo -- --fresh` starts over, the frames stay.",
  ),
  "nothing-to-rebuild": wrong<{ folder: string }>(
    ({ folder }) =>
      `No project lies in ${folder} or below: a project's folder has a hidden folder .tally with its mark in it.`,
  ),
  "folder-has-tally": conflict<{ folder: string; slug: string }>(
    ({ folder, slug }) =>
      `The tally of ${slug} lies in ${folder}. Bring it back (Projects, "Rebuild", or: plain-tally rebuild "${folder}"), or move ${folder}/.tally away.`,
  ),
  "triggers-refused": house<{ why: string }>(
    ({ why }) =>
      `The database's user may not make triggers (${why}): give it the right TRIGGER, and where the server keeps a binary log, set log_bin_trust_function_creators = 1.`,
  ),
  "backup-exists": conflict<{ file: string }>(
    ({ file }) => `${file} is there already, and is never written over: say another name.`,
  ),
  "backup-broken": wrong<{ file: string; why: string }>(
    ({ file, why }) => `${file} is no whole backup (${why}). Nothing was changed.`,
  ),
  "restore-over": conflict(
    "This database holds a tally: --replace puts the backup in its place, and what is there now is gone. Make a backup of it first.",
  ),
  "restore-nodes": conflict<{ count: number }>(
    ({ count }) =>
      `${count === 1 ? "A node is" : `${count} nodes are`} at work with this database: end ${count === 1 ? "it" : "them"} first.`,
  ),
  "restore-differs": house<{ tables: readonly string[] }>(
    ({ tables }) =>
      `What came back of ${tables.join(", ")} is not what the backup holds. The database is not to be used: restore it again, or into another one.`,
  ),
  "migration-locked": house("Another process is bringing the database up to date; try again."),
  "configuration-broken": house<{ file: string; line: number } & Told>(
    ({ file, line, message }) => `${file}, line ${line}: ${message}.`,
  ),
  "node-silent": conflict<{ name: string }>(
    ({ name }) => `${name} is not heard of now: choose another node, or start it.`,
  ),
  "node-name-taken": house<{ name: string; pid: number; host: string }>(
    ({ name, pid, host }) =>
      `A node named ${name} works already (process ${pid} on ${host}); choose another name or end it first.`,
  ),
  "node-replaced": house<{ name: string }>(({ name }) => `Another process works as ${name} now.`),
  "server-fault": {
    ...house("The server made a mistake; its log says which. Nothing was changed."),
    status: 500,
  },
} as const satisfies Record<string, FaultKind>;

export type FaultCode = keyof typeof FAULTS;
export type FaultFacts<C extends FaultCode> = Parameters<(typeof FAULTS)[C]["say"]>[0];
/** The facts of a fault, where its sentence needs any. */
export type FaultArgs<C extends FaultCode> =
  FaultFacts<C> extends void ? readonly [] : readonly [FaultFacts<C>];

/** A code with what its sentence needs. */
export type FaultCall = { [C in FaultCode]: readonly [C, ...FaultArgs<C>] }[FaultCode];

/** The sentence of a fault with its facts put in. */
export const sayFault = <C extends FaultCode>(code: C, ...facts: FaultArgs<C>): string =>
  (FAULTS[code].say as (facts?: unknown) => string)(facts[0]);

const isFaultCode = (code: string): code is FaultCode => Object.hasOwn(FAULTS, code);

/** The fault that a file system's error is. @param errno such as ENOENT */
export function fileFaultCode(errno: string): FaultCode {
  const code = `file-${errno.toLowerCase()}`;
  return isFaultCode(code) ? code : "file-other";
}
