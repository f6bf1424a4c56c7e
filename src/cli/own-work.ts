/** The commands that make and change what people own: roots, projects, shots, plans, runs. */
import type { Command } from "commander";
import { USUAL_HANDLES } from "@/core/edit/edit-use";
import type { ExitCode } from "./command";

type Declare = (name: string, does: string, ...examples: readonly string[]) => Command;
type Run<A extends unknown[]> = (...args: A) => Promise<ExitCode>;

export interface CommandTools {
  /** One command: what it is for, and calls that work. */
  readonly command: Declare;
  /** Commands about one kind of thing. */
  readonly group: (name: string, does: string) => Declare;
  /** Wraps a command that is read only when it is called. */
  readonly action: <A extends unknown[]>(
    load: () => Promise<Run<A>>,
  ) => (...args: unknown[]) => Promise<void>;
}

export const JSON_OPTION = ["--json", "print one JSON value"] as const;
const PROJECT = ["--project <name>", "which one; may be left out while there is one"] as const;
const DRY = ["--dry-run", "only say what would come of it"] as const;
const UNDO = ["--undo", "bring it back"] as const;
const ALL = ["--all", "archived ones too"] as const;
/** For options that may be given several times. */
export const collect = (value: string, all: readonly string[]): string[] => [...all, value];

function declareRoots({ group, action }: CommandTools): void {
  const root = group("root", "The folders on this machine that projects may lie in.");
  root("add", "Declare a folder that is there.", "films /mnt/films")
    .argument("<name>", "small letters, digits and hyphens; other machines know the same folder by it")
    .argument("<folder>", "frames and scenes of projects go below it")
    .option(...JSON_OPTION)
    .action(action(async () => (await import("./root")).rootAddCommand));
  root("list", "Tell the roots with their free space.", "", "--json")
    .option(...JSON_OPTION)
    .action(action(async () => (await import("./root")).rootListCommand));
  root("remove", "Declare it no more; the folder stays as it is.", "films")
    .argument("<name>", "no project may lie on it")
    .option(...JSON_OPTION)
    .action(action(async () => (await import("./root")).rootRemoveCommand));
}

function declareProjects({ group, action }: CommandTools): void {
  const project = group("project", "Projects: a name, a rate, and a folder below a root.");
  project("add", "Make a project and its folder.", 'my-film --title "My Film" --rate 24 --root films')
    .argument("<name>", "small letters, digits and hyphens: in addresses, file names and calls")
    .option("--title <title>", "as people call it; the name")
    .option("--rate <rate>", "frames a second: 24, 23.976 or 24000/1001", "24")
    .option("--root <name>", "where it lies; the first that is declared")
    .option("--folder <folder>", "below the root; the name")
    .option(...JSON_OPTION)
    .action(action(async () => (await import("./projects")).projectAddCommand));
  project("list", "Tell the projects.", "", "--json")
    .option(...ALL)
    .option(...JSON_OPTION)
    .action(action(async () => (await import("./projects")).projectListCommand));
  project("rename", "Give it another name, title or rate; its files stay.", 'my-film --title "Our Film"')
    .argument("<project>", "its name")
    .argument("[name]", "another one")
    .option("--title <title>", "as people call it")
    .option("--rate <rate>", "of plans that are made from now on")
    .option(...JSON_OPTION)
    .action(action(async () => (await import("./projects")).projectRenameCommand));
  project(
    "defaults",
    "Tell or set what plans of its new shots begin with.",
    "my-film --set width=2048 --set height=858 --set passes=beauty,depth",
    "my-film --usual",
  )
    .argument("<project>", "its name")
    .option("--set <key=value>", "a setting of the plan that presets keep, such as samples=64", collect, [])
    .option("--usual", "everything as usual again, before what is set")
    .option(...JSON_OPTION)
    .action(action(async () => (await import("./projects")).projectDefaultsCommand));
  project("archive", "Put it away as it is: not shown, not watched.", "my-film", "my-film --undo")
    .argument("<project>", "its name")
    .option(...UNDO)
    .option(...JSON_OPTION)
    .action(action(async () => (await import("./projects")).projectArchiveCommand));
  project("remove", "Take it out of the tally; its files stay.", "my-film")
    .argument("<project>", "its name")
    .option("--stop", "stop its runs first")
    .option(...JSON_OPTION)
    .action(action(async () => (await import("./projects")).projectRemoveCommand));
}

function declareShots({ group, command, action }: CommandTools): void {
  const shot = group("shot", "Shots: a code, a time line, a scene.");
  shot("add", "Make a shot with its first version and plan.", "MF010 --scene scenes/mf010.json --frames 1-96")
    .argument("<code>", "its own within the project")
    .option(...PROJECT)
    .option("--title <title>", "as people call it; the code")
    .option("--scene <file>", "below the project's folder; the one in scenes/ that is called as the shot")
    .option("--renderer <name>", "one that the configuration declares; the stand-in")
    .option("--frames <frames>", "first to last, such as 1-96; as the scene says")
    .option("--cameras <names>", "with commas; the scene's first")
    .option(...JSON_OPTION)
    .action(action(async () => (await import("./shot")).shotAddCommand));
  shot("list", "Tell the shots.", "--project my-film --json")
    .option(...PROJECT)
    .option(...ALL)
    .option(...JSON_OPTION)
    .action(action(async () => (await import("./shot")).shotListCommand));
  shot("rename", "Give it another code or title; its files stay under the old one.", "MF010 MF015")
    .argument("<shot>", "such as my-film/MF010")
    .argument("[code]", "another one")
    .option("--title <title>", "as people call it")
    .option(...JSON_OPTION)
    .action(action(async () => (await import("./shot")).shotRenameCommand));
  shot(
    "markers",
    "Tell the named stretches of a shot, or set all of them.",
    "MF010",
    "MF010 --set stretches.csv",
    "MF010 --csv",
  )
    .argument("<shot>", "such as my-film/MF010")
    .option(
      "--set <file>",
      "lines such as dusk 90-120, or a table of name, first, last; - for standard input",
    )
    .option("--csv", "as a table")
    .option(...JSON_OPTION)
    .action(action(async () => (await import("./shot")).shotMarkersCommand));
  shot(
    "sound",
    "Tell, set or take away the sound of a shot.",
    "MF010",
    "MF010 --set scenes/sound/mf010.wav --offset -0.5",
    "MF010 --none",
  )
    .argument("<shot>", "such as my-film/MF010")
    .option("--set <file>", "below the project's folder")
    .option("--offset <seconds>", "from the beginning of the time line to that of the sound, such as 0.5")
    .option("--none", "takes it away; the file stays")
    .option(...JSON_OPTION)
    .action(action(async () => (await import("./shot")).shotSoundCommand));
  shot("copy", "Make another shot with the plan of this one.", "MF010 MF020")
    .argument("<shot>", "such as my-film/MF010")
    .argument("<code>", "of the copy")
    .option(...JSON_OPTION)
    .action(action(async () => (await import("./shot")).shotCopyCommand));
  shot("archive", "Put shots away as they are.", "MF010 MF020", "MF010 --undo")
    .argument("<shot...>", "one or several")
    .option(...UNDO)
    .option(...JSON_OPTION)
    .action(action(async () => (await import("./shot")).shotArchiveCommand));
  shot("remove", "Take shots out of the tally; their files stay.", "MF010 MF020")
    .argument("<shot...>", "one or several")
    .option(...JSON_OPTION)
    .action(action(async () => (await import("./shot")).shotRemoveCommand));
  shot("import", "Make and update shots from a table.", "shots.csv --dry-run")
    .argument("<file>", "columns code, title, first, last, scene, camera; - reads standard input")
    .option(...PROJECT)
    .option(...DRY)
    .option(...JSON_OPTION)
    .action(action(async () => (await import("./shot")).shotImportCommand));
  command("edit", "Make and update shots from an edit.", "cut-4.edl --dry-run")
    .argument("<file>", "an .edl or .otio; - reads standard input")
    .option(...PROJECT)
    .option("--handles <frames>", "before and behind what is used", String(USUAL_HANDLES))
    .option(...DRY)
    .option(...JSON_OPTION)
    .action(action(async () => (await import("./shot")).editCommand));
}

function declarePlans({ command, action }: CommandTools): void {
  command(
    "plan",
    "Tell the plan of a shot, or save its next revision.",
    "MF010 --set samples=64 --set frames=1-48",
  )
    .argument("<shot>", "such as my-film/MF010")
    .option("--set <key=value>", "a field of the plan; may be given several times", collect, [])
    .option("--new-version", "open the next version with it")
    .option("--version <name>", "such as v002; its chosen version, else the newest open one")
    .option(...JSON_OPTION)
    .action(action(async () => (await import("./plan")).planCommand));
}

function declareRuns({ command, action }: CommandTools): void {
  command("runs", "Tell what goes on, waits or has stopped, over all shots.", "", "--all --json")
    .option("--all", "those that ended lately, too")
    .option(...JSON_OPTION)
    .action(action(async () => (await import("./runs")).runsCommand));
  command("stop", "Stop a run after the frames in work.", "12", "12 --now")
    .argument("<run>", "its number")
    .option("--now", "save what is in work and give it back")
    .option(...JSON_OPTION)
    .action(action(async () => (await import("./runs")).stopCommand));
  command("resume", "Go on with what a run has left.", "12")
    .argument("<run>", "its number")
    .option(...JSON_OPTION)
    .action(action(async () => (await import("./runs")).resumeCommand));
  command("change", "Change a run while it goes.", "12 --priority 1", "12 --frames 1-48 --nodes quay-1")
    .argument("<run>", "its number")
    .option("--frames <phrase>", "what it shall be for from now on")
    .option("--policy <policy>", "fill, mend, all or refine")
    .option("--order <order>", "first-to-last, coarse-to-fine, ends-first or as-written")
    .option("--priority <n>", "-1 after others, 0, 1 before them")
    .option("--nodes <names>", "with commas; all for every node")
    .option("--before <run>", "gets nodes before that run; last: after all others")
    .option("--after <run>", "begins once every frame of that run is good; none: waits for no other")
    .option(...JSON_OPTION)
    .action(action(async () => (await import("./runs")).changeCommand));
}

/** Declares them all. */
export function declareOwnWork(tools: CommandTools): void {
  declareRoots(tools);
  declareProjects(tools);
  declareShots(tools);
  declarePlans(tools);
  declareRuns(tools);
}
