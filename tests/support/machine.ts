/** Another machine, as far as a program can tell: a configuration and data of its own, and nothing of the house in its environment. */
import { type ChildProcess, execFile, spawn } from "node:child_process";
import fs from "node:fs";
import path from "node:path";
import { type Ended, HOME } from "./stage";

export interface Machine {
  readonly folder: string;
  /** What comes before each program: the way into a place of its own. */
  readonly env: NodeJS.ProcessEnv;
  cli(args: readonly string[], input?: string): Promise<Ended>;
  /** A program that goes on; what it says is kept in `said`. */
  start(args: readonly string[]): { readonly process: ChildProcess; readonly said: () => string };
}

/** @param folder that is made, and removed by whoever asks; @param into a command that runs the rest in a place */
export function machineAt(folder: string, into: readonly string[] = []): Machine {
  fs.mkdirSync(folder, { recursive: true });
  const config = path.join(folder, "plain-tally.config.json");
  fs.writeFileSync(config, JSON.stringify({ data: folder }));
  const env = {
    ...Object.fromEntries(Object.entries(process.env).filter(([name]) => !name.startsWith("PLAIN_TALLY_"))),
    PLAIN_TALLY_HOME: HOME,
    PLAIN_TALLY_CONFIG: config,
    NODE_ENV: "production",
  } as NodeJS.ProcessEnv;
  const call = (args: readonly string[]): [string, string[]] => {
    const [program = process.execPath, ...rest] = [
      ...into,
      process.execPath,
      path.join(HOME, "bin/plain-tally.mjs"),
      ...args,
    ];
    return [program, rest];
  };
  return {
    folder,
    env,
    cli: (args, input = "") =>
      new Promise((resolve) => {
        const child = execFile(...call(args), { env, cwd: folder }, (error, stdout, stderr) =>
          resolve({
            code: typeof error?.code === "number" ? error.code : error === null ? 0 : 1,
            stdout,
            stderr,
          }),
        );
        child.stdin?.end(input);
      }),
    start: (args) => {
      const child = spawn(...call(args), { env, cwd: folder, stdio: ["ignore", "pipe", "pipe"] });
      let said = "";
      for (const stream of [child.stdout, child.stderr])
        stream.on("data", (text: Buffer) => (said = `${said}${text.toString()}`.slice(-8_000)));
      return { process: child, said: () => said };
    },
  };
}
