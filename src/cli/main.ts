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

program
  .command("frames")
  .argument("[phrase]", "such as 1-96,!40-50")
  .option("--within <phrase>", "keep only these")
  .option("--list", "one number a line")
  .option("--from-list", "read numbers, print the phrase")
  .option(...json)
  .action(action(async () => (await import("./frames")).framesCommand));
program
  .command("scan")
  .argument("<folder>")
  .option(...json)
  .action(action(async () => (await import("./files")).scanCommand));
program
  .command("check")
  .argument("<path...>")
  .option("--quick", "structure and checksums (default)")
  .option("--deep", "unpack the picture too")
  .option(...json)
  .action(action(async () => (await import("./files")).checkCommand));
program
  .command("status")
  .argument("[shot]")
  .option("--version <n>")
  .option("--camera <name>")
  .option("--pass <name>")
  .option(...json)
  .action(action(async () => (await import("./shots")).statusCommand));
program
  .command("run")
  .argument("<shot>")
  .argument("[phrase]")
  .option("--policy <policy>", "fill, mend or all", "fill")
  .option("--nodes <names>", "only these, with commas")
  .option("--also <versions>", "other versions in the same run, with commas: v002,v003")
  .option("--version <n>")
  .option("--camera <name>")
  .option("--pass <name>")
  .option("--wait", "until it ends")
  .option(...json)
  .action(action(async () => (await import("./shots")).runCommand));
program
  .command("node")
  .requiredOption("--name <name>")
  .option("--lease <seconds>", "length of a lease")
  .option("--silence <seconds>", "a renderer that says nothing for so long is ended")
  .option(
    "--limit-from <seconds>",
    "frames that take less are never ended for taking ten times what was expected",
  )
  .option("--unproven", "takes frames without a proof that it sees their files")
  .option(
    "--hide <file>",
    "fault for demos and tests: a texture this node does not see; FILE:N for its first N frames",
    collect,
    [],
  )
  .option("--die-in-frame <n>", "fault: ends the hard way in its n-th frame")
  .option("--slow <factor>", "fault: takes so many times as long")
  .action(action(async () => (await import("./node")).nodeCommand));
program
  .command("render")
  .argument("<scene>")
  .option("--frame <n>")
  .option("--range <phrase>")
  .requiredOption("--out <file>")
  .option("--camera <name>")
  .option("--size <size>", "WIDTHxHEIGHT", "480x270")
  .option("--samples <n>", "a pixel", "16")
  .option("--seed <n>", "of the random numbers", "1")
  .option("--depth <depth>", "8, 16, half or float")
  .option(
    "--compression <how>",
    "PNG 0 to 9; TIFF none or deflate; OpenEXR none, rle or zip; JPEG the quality",
  )
  .option("--alpha <how>", "straight, premultiplied or none", "none")
  .option("--passes <list>", "the first takes the name, others get the pass before the ending", "beauty")
  .option(...json)
  .action(action(async () => (await import("./render")).renderCommand));
program
  .command("hand-out")
  .argument("<plan-file>")
  .argument("[phrase]", "other frames than the machine's share")
  .requiredOption("--machine <name>")
  .requiredOption("--out <folder>", "stands for the version's folder")
  .option(...json)
  .action(action(async () => (await import("./hand-out")).handOutCommand));
program
  .command("migrate")
  .description("bring the database up to date")
  .action(action(async () => (await import("./migrate")).migrateCommand));

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

/** The pool hangs on globalThis: a command that opened none has not loaded it. */
async function closeWhatIsOpen(): Promise<void> {
  if ("plainTallyPool" in globalThis) await (await import("@/server/db/pool")).closePool();
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
