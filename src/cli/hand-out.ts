/** `plain-tally hand-out`: one machine's share of a hand-out, without any database. */
import fs from "node:fs/promises";
import path from "node:path";
import { checkHandOut, type HandOut } from "@/contract/hand-out";
import { isMachineName } from "@/core/naming/name";
import { faultText } from "@/contract/validate";
import { difference, type FrameSet } from "@/core/frames/frame-set";
import { formatPhrase } from "@/core/frames/phrase";
import { readPlan } from "@/core/plan/plan";
import { home } from "@/server/configuration";
import { EngineSet } from "@/server/engines/engine-set";
import { renderShare } from "@/server/node/render-share";
import { CallWrong, complain, EXIT, type ExitCode, print, printJson } from "./command";
import { readFrames } from "./frames";

export interface HandOutOptions {
  /** Who this machine is: it must be named in the plan file. */
  readonly machine: string;
  /** Where its pictures go. */
  readonly out: string;
  readonly json?: boolean;
}

/** Checked like anything from outside: it may have been edited on the way. */
async function readHandOut(file: string): Promise<HandOut> {
  const text = await fs.readFile(file, "utf8").catch((error: NodeJS.ErrnoException) => {
    throw new CallWrong(`the plan file ${file} cannot be read (${error.code})`);
  });
  let value: unknown;
  try {
    value = JSON.parse(text);
  } catch (error) {
    throw new CallWrong(`${file} is not JSON: ${(error as Error).message}`);
  }
  const checked = checkHandOut(value);
  if (!checked.ok) throw new CallWrong(`${file} is no plan file of a hand-out: ${faultText(checked.faults)}`);
  return checked.value;
}

/** What this machine is to render. */
function shareOf({ shares }: HandOut, machine: string): FrameSet {
  const share = shares.find((s) => s.machine === machine);
  if (share === undefined)
    throw new CallWrong(
      `${machine} has no share of this hand-out (${shares.map((s) => s.machine).join(", ")} have); name its frames`,
    );
  return readFrames(share.frames);
}

/**
 * Renders a machine's frames one after another. What is there and whole is kept: an interrupted share is
 * simply called again.
 */
export async function handOutCommand(
  file: string,
  phrase: string | undefined,
  options: HandOutOptions,
): Promise<ExitCode> {
  const { machine } = options;
  if (!isMachineName(machine))
    throw new CallWrong("--machine must be letters, digits, - and _, such as desk-2");
  const handOut = await readHandOut(file);
  const read = readPlan(handOut.plan);
  if (!read.ok) throw new CallWrong(`the plan in ${file} cannot be rendered: ${read.faults[0]!.message}`);
  const frames = phrase === undefined ? shareOf(handOut, machine) : readFrames(phrase);
  const others = difference(frames, read.value.asked);
  if (others.count > 0) throw new CallWrong(`the plan does not ask for ${formatPhrase(others)}`);
  const stop = new AbortController();
  for (const signal of ["SIGINT", "SIGTERM"] as const) process.once(signal, () => stop.abort());
  const engine = new EngineSet(path.join(home(), "dist/engine-child.mjs"));
  const counts = { made: 0, there: 0, failed: 0 };
  try {
    const job = {
      handOut,
      read: read.value,
      home: path.dirname(path.resolve(file)),
      machine,
      frames,
      out: path.resolve(options.out),
    };
    for await (const event of renderShare(
      job,
      engine,
      (level, text) => level !== "info" && complain(`${level}: ${text}`),
      stop.signal,
    )) {
      counts[event.kind]++;
      const done = `${counts.made + counts.there + counts.failed} of ${frames.count * handOut.plan.cameras.length}`;
      if (event.kind === "failed") complain(`${event.camera} ${event.frame}: ${event.text}`);
      else if (!options.json)
        print(
          `${event.camera} ${event.frame}  ${event.kind === "made" ? `${event.seconds.toFixed(2)} s` : event.text}  (${done})`,
        );
    }
  } finally {
    engine.close();
  }
  const left = frames.count * handOut.plan.cameras.length - counts.made - counts.there;
  if (options.json) printJson({ machine, ...counts, left, out: options.out });
  else
    print(
      left === 0
        ? `All ${frames.count * handOut.plan.cameras.length} are there. Copy what is in ${options.out} into the folder of the version.`
        : `${left} left. The same call goes on.`,
    );
  return left === 0 ? EXIT.fine : EXIT.frames;
}
