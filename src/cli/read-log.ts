/** `plain-tally read-log`: what another program's log says of frames that were taken in. */
import fs from "node:fs";
import { compileLogPattern, LOG_SHAPES, type LogPattern } from "@/core/review/log-pattern";
import { LogReader, type LogRead } from "@/core/review/log-reader";
import { noteLog } from "@/server/actions/note-log";
import { CallWrong, EXIT, type ExitCode, print, printJson } from "./command";
import { findSequence, type SequenceOptions } from "./shots";

export interface ReadLogOptions extends SequenceOptions {
  readonly pattern: readonly string[];
  readonly shape: readonly string[];
  readonly dryRun?: boolean;
  readonly json?: boolean;
}

/** @throws CallWrong for a pattern that is none, and where none is given */
function readPatterns({ pattern, shape }: ReadLogOptions): readonly LogPattern[] {
  const sources = shape.map((text) => {
    const found = LOG_SHAPES[Number(text) - 1];
    if (found === undefined)
      throw new CallWrong(
        `--shape takes 1 to ${LOG_SHAPES.length}:${LOG_SHAPES.map(({ name }, i) => `\n  ${i + 1}  ${name}`).join("")}`,
      );
    return found.source;
  });
  const all = [...pattern, ...sources].map((source) => {
    const read = compileLogPattern(source);
    if (!read.ok) throw new CallWrong(`--pattern: ${read.fault}`);
    return read.pattern;
  });
  if (all.length === 0) throw new CallWrong("give a --pattern with (?P<frame>\\d+) in it, or a --shape");
  return all;
}

/** Piece by piece: a log may have a gigabyte. */
async function readFile(file: string, patterns: readonly LogPattern[]): Promise<LogRead> {
  const reader = new LogReader(patterns);
  try {
    for await (const piece of fs.createReadStream(file, { encoding: "utf8" })) reader.push(piece as string);
  } catch (error) {
    throw new CallWrong(`${file} cannot be read (${(error as NodeJS.ErrnoException).code})`);
  }
  return reader.end();
}

/** @param file of the log; - reads standard input */
export async function readLogCommand(file: string, shot: string, options: ReadLogOptions): Promise<ExitCode> {
  const patterns = readPatterns(options);
  const sequence = await findSequence(shot, options);
  const read = await readFile(file === "-" ? "/dev/stdin" : file, patterns);
  const noted =
    options.dryRun === true || read.frames.length === 0
      ? { noted: 0, notHere: "" }
      : await noteLog(sequence.id, { frames: read.frames });
  const figures = { lines: read.lines, matched: read.matched, frames: read.frames.length };
  if (options.json)
    printJson(options.dryRun === true ? { ...figures, said: read.frames } : { ...figures, ...noted });
  else {
    print(`${read.lines} lines read, ${read.matched} say something of ${read.frames.length} frames.`);
    if (options.dryRun === true)
      for (const { frame, node, seconds, message } of read.frames)
        print(
          [`${frame}`, node ?? "", seconds === null ? "" : `${seconds} s`, message ?? ""]
            .join("  ")
            .trimEnd(),
        );
    else
      print(`${noted.noted} filled in${noted.notHere === "" ? "" : `; ${noted.notHere} have no file here`}.`);
  }
  return read.matched === 0 ? EXIT.frames : EXIT.fine;
}
