/** The `plain-tally` command: reads the call, runs one command, ends with its code. */
import path from "node:path";
import { Command, CommanderError } from "commander";
import { closePool, isDatabaseAway, pool } from "@/server/db/pool";
import { home } from "@/server/configuration";
import { migrate } from "@/server/db/migrate";
import { TallyError } from "@/server/errors";
import { CallWrong, complain, EXIT, type ExitCode, print } from "./command";
import { checkCommand, scanCommand } from "./files";
import { framesCommand } from "./frames";
import { handOutCommand } from "./hand-out";
import { nodeCommand } from "./node";
import { renderCommand } from "./render";
import { runCommand, statusCommand } from "./shots";
import { FAULTS } from "@/contract/faults";

/** Phrases may begin with a minus (`-5--1`): such arguments wear a shield past the option parser. */
const SHIELD = "\u0001";
const shield = (args: readonly string[]): string[] =>
  args.map((arg) => (/^-\d/.test(arg) ? SHIELD + arg : arg));
function unshield<T>(value: T): T {
  if (typeof value === "string") return value.replace(SHIELD, "") as T;
  if (Array.isArray(value)) return value.map(unshield) as T;
  if (value !== null && typeof value === "object" && Object.getPrototypeOf(value) === Object.prototype)
    return Object.fromEntries(Object.entries(value).map(([k, v]) => [k, unshield(v)])) as T;
  return value;
}

let exitCode: ExitCode = EXIT.fine;
/** Wraps a command as commander's action; the last argument, the command object, is dropped. */
const action =
  <A extends unknown[]>(run: (...args: A) => Promise<ExitCode>) =>
  async (...args: unknown[]): Promise<void> => {
    exitCode = await run(...(args.slice(0, -1).map(unshield) as A));
  };

const program = new Command("plain-tally")
  .description("Keeps the tally of rendered frames.")
  .exitOverride()
  .configureOutput({ writeErr: (text) => process.stderr.write(text) });
const json = ["--json", "print one JSON value"] as const;
const collect = (value: string, all: readonly string[]): string[] => [...all, value];

program
  .command("frames")
  .argument("[phrase]", "such as 1-96,!40-50")
  .option("--within <phrase>", "keep only these")
  .option("--list", "one number a line")
  .option("--from-list", "read numbers, print the phrase")
  .option(...json)
  .action(action(framesCommand));
program
  .command("scan")
  .argument("<folder>")
  .option(...json)
  .action(action(scanCommand));
program
  .command("check")
  .argument("<path...>")
  .option("--quick", "structure and checksums (default)")
  .option("--deep", "unpack the picture too")
  .option(...json)
  .action(action(checkCommand));
program
  .command("status")
  .argument("[shot]")
  .option("--version <n>")
  .option("--camera <name>")
  .option("--pass <name>")
  .option(...json)
  .action(action(statusCommand));
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
  .action(action(runCommand));
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
  .action(action(nodeCommand));
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
  .action(action(renderCommand));
program
  .command("hand-out")
  .argument("<plan-file>")
  .argument("[phrase]", "other frames than the machine's share")
  .requiredOption("--machine <name>")
  .requiredOption("--out <folder>", "stands for the version's folder")
  .option(...json)
  .action(action(handOutCommand));
program
  .command("migrate")
  .description("bring the database up to date")
  .action(
    action(async () => {
      const done = await migrate(pool(), path.join(home(), "db"));
      print(done.length === 0 ? "The database is up to date." : `Applied ${done.join(", ")}.`);
      return EXIT.fine;
    }),
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

process.stdout.on("error", (error: NodeJS.ErrnoException) =>
  process.exit(error.code === "EPIPE" ? EXIT.fine : EXIT.system),
);
program
  .parseAsync(shield(process.argv.slice(2)), { from: "user" })
  .catch((error: unknown) => {
    exitCode = codeOf(error);
  })
  .finally(() => closePool())
  .then(
    () => {
      process.exitCode = exitCode;
    },
    () => process.exit(EXIT.system),
  );
