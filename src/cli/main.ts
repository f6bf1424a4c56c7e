/**
 * The `plain-tally` command: reads the call, runs one command, ends with its code.
 * Each command is loaded when it is called: the command line starts in the time of the one that is asked
 * for.
 */
import { Command, CommanderError } from "commander";
import { isDatabaseAway } from "@/server/db/away";
import { TallyError } from "@/server/errors";
import { CallWrong, complain, EXIT, type ExitCode } from "./command";
import { FAULTS } from "@/contract/faults";
import { declareNetwork } from "./network-commands";
import { declareOwnWork } from "./own-work";

/** Phrases may begin with a minus (`-5--1`): such arguments wear a shield past the option parser. */
const SHIELD = "\u0001";
/** A phrase may begin with a minus; the parser of options would take it for one of its own. */
const shield = (args: readonly string[]): string[] =>
  args.map((arg) => (/^-\d/.test(arg) ? SHIELD + arg : arg));
/** In texts and lists of them. */
function unshield<T>(value: T): T {
  if (typeof value === "string") return value.replace(SHIELD, "") as T;
  if (Array.isArray(value)) return value.map(unshield) as T;
  if (value !== null && typeof value === "object" && Object.getPrototypeOf(value) === Object.prototype)
    return Object.fromEntries(Object.entries(value).map(([k, v]) => [k, unshield(v)])) as T;
  return value;
}

let exitCode: ExitCode = EXIT.fine;
/**
 * Wraps a command as commander's action. It is read only when it is called: `frames` needs no database, and
 * starts at once.
 */
const action =
  <A extends unknown[]>(load: () => Promise<(...args: A) => Promise<ExitCode>>) =>
  async (...args: unknown[]): Promise<void> => {
    const run = await load();
    // The last argument, commander's own object, is dropped.
    exitCode = await run(...(args.slice(0, -1).map(unshield) as A));
  };

const program = new Command("plain-tally")
  .description("Keeps the tally of rendered frames.")
  .exitOverride()
  .configureOutput({ writeErr: (text) => process.stderr.write(text) });
const json = ["--json", "print one JSON value"] as const;
/** For options that may be given several times. */
const collect = (value: string, all: readonly string[]): string[] => [...all, value];

/** One command: what it is for, and a call that works. */
const command = (name: string, does: string, ...examples: readonly string[]): Command =>
  program
    .command(name)
    .description(does)
    .addHelpText(
      "after",
      `\nExample:\n${examples.map((e) => `  plain-tally ${name} ${e}`.trimEnd()).join("\n")}`,
    );
/** Commands about one kind of thing: `plain-tally root add …`. */
function group(name: string, does: string): typeof command {
  const parent = program.command(name).description(does);
  return (sub, about, ...examples) =>
    parent
      .command(sub)
      .description(about)
      .addHelpText(
        "after",
        `\nExample:\n${examples.map((e) => `  plain-tally ${name} ${sub} ${e}`.trimEnd()).join("\n")}`,
      );
}
const SHOT = "such as harbour-lights/HL010; the code alone will do while one project has it";
const version = [
  "--version <name>",
  "such as v002 or rough001; its chosen version, else the newest open one",
] as const;
const camera = ["--camera <name>", "of the plan; its first one"] as const;
const pass = ["--pass <name>", "of the plan, such as depth; beauty"] as const;

command("start", "Start database, pages and a node of this machine, until Ctrl-C.", "--root films=/mnt/films")
  .option("--port <number>", "where the pages are; 4310")
  .option("--root <name=folder>", "declares a folder for projects; may be given several times", collect, [])
  .option("--nodes <count>", "so many nodes, which share the machine's cores; 1")
  .option("--no-node", "none: others render")
  .option("--listen <address>", "other machines may join: an address of this one, or 0.0.0.0")
  .option("--host <address>", "the pages are reached over the network, by whoever signs in")
  .action(() => {
    throw new CallWrong("it is started by bin/plain-tally.mjs, before this program is read");
  });
declareNetwork({ command, group, action });
command("about", "Tell which version this is, and where it keeps what.", "--json")
  .option(...json)
  .action(action(async () => (await import("./about")).aboutCommand));
const service = group("service", "Run as a service of this machine, by systemd.");
service("install", "Begin with the machine: database and pages, or a node.", "--node quay-1")
  .option("--node <name>", "a node of this name; else database and pages")
  .option("--user <account>", "whom it runs as, of root's; who called sudo")
  .option("--port <number>", "where the pages are; 4310")
  .option("--units <folder>", "only write the unit there, and tell nobody")
  .action(action(async () => (await import("./service")).installService));
service("remove", "End it, and begin with the machine no more.", "--node quay-1")
  .option("--node <name>", "a node of this name; else database and pages")
  .option("--units <folder>", "where the unit was written")
  .action(action(async () => (await import("./service")).removeService));
command("frames", "Read a frame phrase, or make one of a list of numbers.", '"1-96,!40-50" --list')
  .argument("[phrase]", "such as 1-96,!40-50")
  .option("--within <phrase>", "keep only these, such as 1-48")
  .option("--list", "one number a line")
  .option("--from-list", "read numbers from standard input, print the phrase")
  .option(...json)
  .action(action(async () => (await import("./frames")).framesCommand));
command(
  "scan",
  "List a folder's sequences: gaps, mixed widths, doubles, strangers, leftovers.",
  "var/frames/HL010",
)
  .argument("<folder>", "it is read, and nothing in it is opened")
  .option("--below", "folders in it too, with the camera and pass that they seem to be")
  .option(...json)
  .action(action(async () => (await import("./files")).scanCommand));
command(
  "take-in",
  "Keep the tally of frames that something else renders.",
  "/mnt/films/from-farm/HL050 --project harbour-lights --shot HL050",
  'frames/HL050 --shot HL050 --as "z/quay.####.exr=main/depth"',
)
  .argument("<folder>", "with those below it; nothing in it is changed, ever")
  .requiredOption("--shot <code>", "a new one, or one that gets its next version")
  .option("--project <name>", "which one; may be left out while there is one")
  .option("--title <title>", "of a new shot; its code")
  .option("--as <name=camera/pass>", "what a sequence is, where it is not as it seems", collect, [])
  .option("--rate <rate>", "frames a second; as the files say, else the project's")
  .option("--alpha <kind>", "none, straight or premultiplied; as the files say")
  .option("--linear", "the files hold scene light")
  .option("--display", "the files hold what is to be shown")
  .option("--no-check", "a server that runs looks at the files")
  .option("--dry-run", "only say what would come of it")
  .option(...json)
  .action(action(async () => (await import("./take-in")).takeInCommand));
command(
  "read-log",
  "Fill in who made frames of another program, and how long it took.",
  "farm.log HL050 --shape 2",
  "farm.log HL050 --pattern 'frame (?P<frame>\\d+) on (?P<node>\\S+)' --dry-run",
)
  .argument("<file>", "the log, of any length; - reads standard input")
  .argument("<shot>", SHOT)
  .option("--shape <number>", "a common shape of lines; a wrong number lists them", collect, [])
  .option("--pattern <pattern>", "with groups frame, node, seconds, message", collect, [])
  .option(...version)
  .option(...camera)
  .option(...pass)
  .option("--dry-run", "only say what it says")
  .option(...json)
  .action(action(async () => (await import("./read-log")).readLogCommand));
command("rebuild", "Bring the tally back from what lies beside the frames.", "/mnt/work/harbour-lights")
  .argument("<folder>", "of a project, or one with projects in it")
  .option(...json)
  .action(action(async () => (await import("./rebuild")).rebuildCommand));
command(
  "check",
  "Say of each picture whether its file is whole, and odd beside the others.",
  "HL010/v001/main/beauty --deep --odd",
)
  .argument("<path...>", "files, or folders that are walked")
  .option("--quick", "structure and checksums; what is done where neither is said")
  .option("--deep", "unpack the picture too")
  .option("--odd", "measure every picture, and tell pops, frozen frames, flicker, hot pixels and outliers")
  .option(...json)
  .action(action(async () => (await import("./files")).checkCommand));
command(
  "status",
  "Tell the tally of a shot, or of every shot.",
  "",
  "harbour-lights/HL010 --version v002 --json",
)
  .argument("[shot]", SHOT)
  .option(...version)
  .option(...camera)
  .option(...pass)
  .option(...json)
  .action(action(async () => (await import("./shots")).statusCommand));
command(
  "run",
  "Start a run: nodes render what of these frames the policy says.",
  "HL010",
  "HL010 1001-1048 --policy mend --nodes quay-1,quay-2 --wait",
)
  .argument("<shot>", SHOT)
  .argument("[phrase]", "such as 1001-1048 or missing; all of the plan")
  .option(
    "--policy <policy>",
    "fill: missing or failed; mend: and flagged or out of date; all: every frame; refine: and more samples",
    "fill",
  )
  .option("--nodes <names>", "only these, with commas, such as quay-1,group:farm; every node")
  .option("--also <versions>", "other versions in the same run, with commas: v002,v003")
  .option(...version)
  .option("--camera <name>", "only the sequences of this camera; all of the plan")
  .option("--pass <name>", "only this pass, such as depth; all of the plan")
  .option("--then <what>", "when all are good, with commas: a preset of movies, checked deeply first; report")
  .option(
    "--then-gaps <how>",
    "bad frames: stop waits for patches, hold shows the one before, card a black one; stop",
  )
  .option("--tell", "calls what whenHandedOver names, with what became of it")
  .option("--next-version", "opens the next version with the same plan and renders in that")
  .option("--wait", "until it ends; its result is the exit code")
  .option(...json)
  .action(action(async () => (await import("./shots")).runCommand));
command(
  "discard",
  "Discard saved samples, or files that the plan does not ask for.",
  "HL010 --extra --dry-run",
  "HL010 1001-1010 --samples",
)
  .argument("<shot>", "code, or project/CODE")
  .argument("[phrase]", "which frames; all, also those that the plan does not ask for")
  .option("--samples", "what is saved of frames that are not done")
  .option("--extra", "files that the plan does not ask for")
  .option("--dry-run", "only tells what would go, with its size")
  .option(...version)
  .option("--camera <name>", "only the sequences of this camera; the whole version")
  .option("--pass <name>", "only this pass; the whole version")
  .option(...json)
  .action(action(async () => (await import("./discard")).discardCommand));
command(
  "patch",
  "Tell what is to be rendered again of several shots, and why; start it.",
  "harbour-lights --start",
  "harbour-lights/HL010 harbour-lights/HL020",
)
  .argument("<shots...>", "project/CODE, or a project: all of its shots")
  .option("--start", "a run for each, without the nodes that made what is wrong")
  .option(...json)
  .action(action(async () => (await import("./patch")).patchCommand));
command(
  "aside",
  "Tell which nodes get no frames and why; set one aside, or let it in again.",
  'quay-2 --why "it lacks the new font"',
  "quay-2 --let-in",
)
  .argument("[node]", "its name; all that are set aside")
  .option("--why <text>", "set it aside from every run; it ends what it renders now")
  .option("--let-in", "it gets frames again")
  .option(...json)
  .action(action(async () => (await import("./node-aside")).asideCommand));
command(
  "group",
  "Tell which nodes are in which groups, or put one into some.",
  "quay-1 --in farm,night",
  "quay-1 --none",
)
  .argument("[node]", "its name; every node")
  .option("--in <names>", "the groups that it is in from now on, with commas")
  .option("--none", "it is in none")
  .option(...json)
  .action(action(async () => (await import("./node-groups")).groupCommand));
command(
  "limit",
  "Tell how many frames of a renderer may be in work at once, or say it.",
  "stand-in --at-once 4",
  "stand-in --none",
)
  .argument("[renderer]", "as the configuration calls it, or stand-in; every one")
  .option("--at-once <count>", "over all nodes and runs, such as the licences that there are")
  .option("--none", "as many as nodes take")
  .option(...json)
  .action(action(async () => (await import("./renderer-limit")).limitCommand));
command(
  "flag",
  "Reject pictures by hand, with the reason, or take that back.",
  'HL010 1055-1057 --why "the lamp is off"',
  "HL010 'node(quay-2)' --clear",
)
  .argument("<shot>", "code, or project/CODE")
  .argument("<phrase>", "which frames")
  .option("--why <text>", "what is wrong with them")
  .option("--clear", "they are no worse than the others")
  .option(...version)
  .option(...camera)
  .option(...pass)
  .option(...json)
  .action(action(async () => (await import("./flag")).flagCommand));
command("history", "Tell what happened to a frame: attempts, what was found, what replaced what.", "HL010 57")
  .argument("<shot>", "code, or project/CODE")
  .argument("<frame>", "its number")
  .option(...version)
  .option(...camera)
  .option(...pass)
  .option(...json)
  .action(action(async () => (await import("./history")).historyCommand));
command(
  "odd",
  "Tell what is odd among its neighbours, and judge it.",
  "HL010 --measure",
  'HL010 1067 --dismiss "lightning"',
)
  .argument("<shot>", "code, or project/CODE")
  .argument("[phrase]", "which frames; all")
  .option("--measure", "measure here what no node has measured yet")
  .option("--accept", "they are faults: flag them, with their reasons")
  .option("--dismiss <why>", "they are none")
  .option("--undo", "take back what was said of them")
  .option(...version)
  .option(...camera)
  .option(...pass)
  .option(...json)
  .action(action(async () => (await import("./judge")).oddCommand));
command(
  "replaced",
  "Tell which files replaced others, and accept them or put the old ones back.",
  "HL010 --json",
  "HL010 1001-1008 --accept",
)
  .argument("<shot>", "code, or project/CODE")
  .argument("[phrase]", "which frames; needed where something is to be done")
  .option("--accept", "they are good: the files before are put further aside")
  .option("--undo", "the files before come back, with what was said of them")
  .option(...version)
  .option(...camera)
  .option(...pass)
  .option(...json)
  .action(action(async () => (await import("./judge")).replacedCommand));
command("news", "Tell what happened over all shots since a moment.", "--since 2026-11-30T20:00:00Z --json")
  .option("--since <time>", "such as 2026-11-30T20:00:00Z; twelve hours ago")
  .option(...json)
  .action(action(async () => (await import("./news")).newsCommand));
command(
  "export",
  "Hand over a movie, a list, a sheet, a page, a report or copies of the frames.",
  "HL010 --as movie --codec prores --out HL010.mov",
  "HL010 --as sums --frames good --json",
  "harbour-lights --edit --as movie --preset phone --gaps card",
)
  .argument("<shot>", `${SHOT}; with --edit the name of a project`)
  .requiredOption(
    "--as <kind>",
    "movie, csv, json, list, concat, sums, otio, patch, sheet, page, report, case or frames",
  )
  .option("--out <path>", "a file, or a folder for frames, that is not there yet; the project's handovers")
  .option("--frames <phrase>", "such as 1001-1048; all")
  .option("--gaps <how>", "stop, hold the frame before, or card: a black picture with the number; stop")
  .option("--rate <rate>", "frames a second, such as 23.976; the plan's")
  .option("--codec <codec>", "h264, h265, av1, prores, ffv1, vp9, gif or apng; h264")
  .option("--preset <name>", "phone, edit, archive or web, or one that the house keeps")
  .option("--settings <json>", 'of its kind, such as \'{"percent":50,"burnt":["frame"]}\'')
  .option("--deep", "unpack every file first, and stop where one is damaged")
  .option("--tell", "calls what whenHandedOver names, with what became of it")
  .option("--edit", "the project's edit in its order")
  .option(...version)
  .option(...camera)
  .option(...pass)
  .option(...json)
  .action(action(async () => (await import("./export")).exportCommand));
command(
  "render",
  "Render frames of a scene file with the stand-in renderer, without any database.",
  "scenes/hl010.json --frame 1001 --out first.png",
  "scenes/hl010.json --range 1001-1010 --out 'rough/hl010.####.exr' --passes beauty,depth",
)
  .argument("<scene>", "a scene file; its textures lie beside it")
  .option("--frame <n>", "one frame of the scene, such as 1001")
  .option("--range <phrase>", "several, such as 1001-1010: then the name holds ####")
  .requiredOption("--out <file>", "where to: .png, .tif, .exr or .jpg")
  .option("--camera <name>", "of the scene; its first one")
  .option("--size <size>", "WIDTHxHEIGHT", "480x270")
  .option("--samples <n>", "a pixel", "16")
  .option("--seed <n>", "of the random numbers", "1")
  .option("--depth <depth>", "8, 16, half or float, as the kind of file holds it")
  .option(
    "--compression <how>",
    "PNG 0 to 9; TIFF none or deflate; OpenEXR none, rle or zip; JPEG the quality",
  )
  .option("--alpha <how>", "straight, premultiplied or none", "none")
  .option("--channels <which>", "colour, or grey: one channel", "colour")
  .option("--shading <how>", "full, direct, flat (colours without light) or line", "full")
  .option("--passes <list>", "the first takes the name, others get the pass before the ending", "beauty")
  .option(...json)
  .action(action(async () => (await import("./render")).renderCommand));
command(
  "hand-out",
  "Render one machine's share of a hand-out, without any database.",
  "hand-out.json --machine barge --out out",
)
  .argument("<plan-file>", "hand-out.json of the folder that was taken along")
  .argument("[phrase]", "other frames than the machine's share, such as 1001-1010")
  .requiredOption("--machine <name>", "which of the plan file's machines this is")
  .requiredOption("--out <folder>", "stands for the version's folder")
  .option(...json)
  .action(action(async () => (await import("./hand-out")).handOutCommand));
declareOwnWork({ command, group, action });
command("backup", "Write the whole database into one file, while everybody works.", "monday.tally.gz")
  .argument("<file>", "is made; one that is there is never written over")
  .option(...json)
  .action(action(async () => (await import("./backup")).backupCommand));
command("restore", "Put a backup in the place of the database.", "monday.tally.gz", "monday.tally.gz --check")
  .argument("<file>", "that backup made")
  .option("--replace", "whatever tally is there now is gone")
  .option("--check", "only tell whether the file is whole")
  .option(...json)
  .action(action(async () => (await import("./backup")).restoreCommand));
command("migrate", "Bring the database up to date; a second call does nothing.", "").action(
  action(async () => (await import("./migrate")).migrateCommand),
);

/** The code for what was thrown; everything expected is told in one sentence. */
function codeOf(error: unknown): ExitCode {
  if (error instanceof CommanderError) return error.exitCode === 0 ? EXIT.fine : EXIT.call;
  if (isDatabaseAway(error)) {
    complain(
      `the database cannot be reached (${(error as Error).message || (error as { code?: string }).code})`,
    );
    return EXIT.system;
  }
  complain((error as Error).message);
  if (error instanceof CallWrong) return EXIT.call;
  if (error instanceof TallyError) return FAULTS[error.code].exit;
  if (!(error instanceof Error && "code" in error)) process.stderr.write(`${(error as Error).stack}\n`);
  return EXIT.system;
}

/**
 * What a command decided stands in the records before it ends, whether a server runs or not.
 * The pool hangs on globalThis: a command that opened none has not loaded it.
 */
async function closeWhatIsOpen(): Promise<void> {
  if (!("plainTallyPool" in globalThis)) return;
  const { closePool, pool } = await import("@/server/db/pool");
  if (exitCode !== EXIT.system)
    await (await import("@/server/record/recorder")).writeRecords(pool()).catch((error: unknown) => {
      complain(`the records could not be written (${(error as Error).message})`);
    });
  await closePool();
}

process.stdout.on("error", (error: NodeJS.ErrnoException) =>
  process.exit(error.code === "EPIPE" ? EXIT.fine : EXIT.system),
);
program
  .parseAsync(shield(process.argv.slice(2)), { from: "user" })
  .catch((error: unknown) => {
    exitCode = codeOf(error);
  })
  .finally(closeWhatIsOpen)
  .then(
    () => {
      process.exitCode = exitCode;
    },
    () => process.exit(EXIT.system),
  );
