/**
 * `plain-tally frames`: the phrase language on the bare command line.
 * Reads phrases or lists and writes phrases or lists; nothing else is loaded, so that scripts may call it
 * in a loop.
 */
import readline from "node:readline";
import { firstOf, type FrameSet, intersection, lastOf, members, setOf } from "@/core/frames/frame-set";
import { formatPhrase, parsePhrase } from "@/core/frames/phrase";
import { CallWrong, EXIT, type ExitCode, print, printJson } from "./command";

export interface FramesOptions {
  /** A phrase that the answer is kept inside of. */
  readonly within?: string;
  /** One number a line. */
  readonly list?: boolean;
  /** Reads such a list from standard input. */
  readonly fromList?: boolean;
  readonly json?: boolean;
}

/** A phrase from the command line. @throws CallWrong with the column */
export function readFrames(phrase: string): FrameSet {
  const read = parsePhrase(phrase);
  if (!read.ok) throw new CallWrong(read.error.message);
  return read.set;
}

/** A line that is no number is told with its number. */
async function readList(): Promise<FrameSet> {
  const numbers: number[] = [];
  let line = 0;
  for await (const text of readline.createInterface({ input: process.stdin })) {
    line++;
    for (const word of text
      .trim()
      .split(/[\s,]+/)
      .filter(Boolean)) {
      if (!/^-?\d+$/.test(word)) throw new CallWrong(`line ${line}: "${word}" is not a frame number`);
      numbers.push(Number(word));
    }
  }
  return setOf(numbers);
}

/** A phrase as a phrase, a list, or a count; or a list of numbers as a phrase. */
export async function framesCommand(phrase: string | undefined, options: FramesOptions): Promise<ExitCode> {
  if ((phrase === undefined) === (options.fromList !== true))
    throw new CallWrong("give a phrase, or --from-list with numbers on standard input");
  const all = phrase === undefined ? await readList() : readFrames(phrase);
  const set = options.within === undefined ? all : intersection(all, readFrames(options.within));
  if (options.list) {
    // In pieces: ten million lines in one string would not fit.
    let piece: number[] = [];
    for (const frame of members(set)) {
      piece.push(frame);
      if (piece.length === 50_000) {
        print(piece.join("\n"));
        piece = [];
      }
    }
    if (piece.length > 0) print(piece.join("\n"));
  } else if (options.json) {
    printJson({ phrase: formatPhrase(set), count: set.count, first: firstOf(set), last: lastOf(set) });
  } else if (options.fromList) {
    print(formatPhrase(set));
  } else {
    print(`${formatPhrase(set)}\n${set.count.toLocaleString("en")} frame${set.count === 1 ? "" : "s"}`);
  }
  return EXIT.fine;
}
