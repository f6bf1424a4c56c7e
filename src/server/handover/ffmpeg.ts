/**
 * ffmpeg and ffprobe: which encoders there are, a movie from pictures that are fed to it, and a movie read back. What they
 * say is kept as the log of the handover; an error that they say is a failure, whatever their exit code.
 */
import { execFile, spawn } from "node:child_process";
import { availableParallelism } from "node:os";
import { once } from "node:events";
import type { Writable } from "node:stream";
import { promisify } from "node:util";
import { CODEC_FACTS, type Codec } from "@/core/handover/codecs";
import type { SeenMovie } from "@/core/handover/read-back";
import { makeRate, type Rate } from "@/core/timing/rate";
import { TallyError } from "../errors";
import { programEnvironment } from "../program-environment";
import { guarded } from "../program-guard";

const run = promisify(execFile);
/** Lists of encoders, and what is told of a movie. */
const MOST_OUTPUT = 1 << 26;

/** What a program printed. @throws TallyError `ffmpeg-missing` */
async function printedBy(
  program: "ffmpeg" | "ffprobe",
  args: readonly string[],
  signal?: AbortSignal,
): Promise<string> {
  try {
    const { stdout } = await run(program, [...args], {
      env: programEnvironment(),
      maxBuffer: MOST_OUTPUT,
      ...(signal === undefined ? {} : { signal }),
    });
    return stdout;
  } catch (error) {
    if (isMissing(error)) throw new TallyError("ffmpeg-missing", { program });
    throw error;
  }
}

const isMissing = (error: unknown): boolean => (error as NodeJS.ErrnoException).code === "ENOENT";

/** Both programs answer on this machine. */
export async function isFfmpegThere(): Promise<boolean> {
  try {
    for (const program of ["ffmpeg", "ffprobe"] as const) await printedBy(program, ["-version"]);
    return true;
  } catch {
    return false;
  }
}

/** The best encoder that is there. @throws TallyError `ffmpeg-missing`, `ffmpeg-no-encoder` */
export async function encoderFor(codec: Codec): Promise<string> {
  const { encoders, word } = CODEC_FACTS[codec];
  const there = new Set(
    [...(await printedBy("ffmpeg", ["-hide_banner", "-encoders"])).matchAll(/^ [VAS][\w.]{5} (\S+)/gm)].map(
      ([, name]) => name!,
    ),
  );
  const found = encoders.find((encoder) => there.has(encoder));
  if (found === undefined) throw new TallyError("ffmpeg-no-encoder", { codec: word, encoders });
  return found;
}

/** Lines of what was said that are kept. */
const LINES_KEPT = 400;
/** Of these the last are told when it failed. */
const LINES_TOLD = 3;
/** After it was asked to end. */
const GRACE_MS = 5_000;

export interface Encoding {
  /** Behind `ffmpeg`, from the input on to the name. */
  readonly args: readonly string[];
  /** Writes what goes in; ended by whoever calls. */
  readonly feed: (into: Writable) => Promise<void>;
  readonly signal: AbortSignal;
  /** Pictures that it has encoded so far. */
  readonly onFrame: (frames: number) => void;
  readonly onLine: (line: string) => void;
}

/** Cuts text into lines. */
function lines(onLine: (line: string) => void): (text: string) => void {
  let rest = "";
  return (text) => {
    const all = (rest + text).split(/[\r\n]+/);
    rest = all.pop()!.slice(-2_000);
    for (const line of all) if (line !== "") onLine(line);
  };
}

/**
 * Runs ffmpeg to its end, with the pictures on its standard input.
 * @throws TallyError `ffmpeg-missing`, `ffmpeg-failed`; what the feeding threw; the reason of the signal
 */
export async function encode({ args, feed, signal, onFrame, onLine }: Encoding): Promise<void> {
  signal.throwIfAborted();
  const [program, ...all] = guarded("ffmpeg", [
    ...["-hide_banner", "-nostats", "-loglevel", "repeat+level+warning", "-xerror"],
    ...["-progress", "pipe:1"],
    ...args,
  ]);
  const child = spawn(program, all, { stdio: ["pipe", "pipe", "pipe"], env: programEnvironment() });
  const said: string[] = [];
  let isWrong = false;
  child.stdout.setEncoding("utf8").on(
    "data",
    lines((line) => {
      const frame = /^frame=\s*(\d+)/.exec(line);
      if (frame !== null) onFrame(Number(frame[1]));
    }),
  );
  child.stderr.setEncoding("utf8").on(
    "data",
    lines((line) => {
      if (/\[(error|fatal|panic)\]/.test(line)) isWrong = true;
      if (said.length < LINES_KEPT) onLine(line);
      said.push(line);
      if (said.length > 2 * LINES_KEPT) said.splice(0, LINES_KEPT);
    }),
  );
  let fault: Error | null = null;
  child.once("error", (error) => (fault = error));
  // It reads no more: its own end says why, also where the feeding hears of it first.
  let broken: Error | null = null;
  child.stdin.on("error", (error) => (broken = error));
  const over = new Promise<{ readonly code: number | null; readonly signal: NodeJS.Signals | null }>(
    (resolve) => {
      child.once("close", (code, by) => resolve({ code, signal: by }));
      child.once("error", () => resolve({ code: null, signal: null }));
    },
  );
  const end = (): void => {
    child.kill("SIGTERM");
    setTimeout(() => child.exitCode ?? child.signalCode ?? child.kill("SIGKILL"), GRACE_MS).unref();
  };
  signal.addEventListener("abort", end, { once: true });
  let fedWrong: unknown = null;
  try {
    await Promise.race([feed(child.stdin), over]);
  } catch (error) {
    fedWrong = error;
    end();
  }
  child.stdin.end();
  const { code, signal: by } = await over;
  signal.removeEventListener("abort", end);
  signal.throwIfAborted();
  if (fedWrong !== null && fedWrong !== broken) throw fedWrong;
  if (fault !== null)
    throw isMissing(fault) ? new TallyError("ffmpeg-missing", { program: "ffmpeg" }) : fault;
  // setpriv says it in its own words.
  if (code === 127) throw new TallyError("ffmpeg-missing", { program: "ffmpeg" });
  if (code !== 0 || isWrong) {
    const told = said.filter((line) => /\[(error|fatal|panic)\]/.test(line));
    const last = (told.length > 0 ? told : said)
      .slice(-LINES_TOLD)
      .map((line) => line.replace(/^.*\] \[?/, ""));
    throw new TallyError("ffmpeg-failed", {
      how: by === null ? `code ${code}` : `the signal ${by}`,
      said: last.length === 0 ? "" : ` It said: ${last.join(" / ")}`,
    });
  }
}

/** Waits for whoever reads. */
export async function give(into: Writable, bytes: Uint8Array): Promise<void> {
  if (!into.write(bytes)) await once(into, "drain");
}

interface Probed {
  readonly streams?: readonly {
    readonly nb_read_frames?: string;
    readonly r_frame_rate?: string;
    readonly width?: number;
    readonly height?: number;
  }[];
  readonly packets?: readonly { readonly pts_time?: string; readonly duration_time?: string }[];
}

/**
 * From the first picture to the end of the last one. What a container says of itself counts the sound, too, and some say
 * nothing; pictures may lie in another order than they are shown.
 */
function durationOf({ packets }: Probed, rate: Rate | null): number | null {
  const usual = rate === null ? 0 : rate.denominator / rate.numerator;
  let [begin, end] = [Infinity, -Infinity];
  for (const { pts_time: at, duration_time: lasts } of packets ?? []) {
    const start = Number(at);
    if (!Number.isFinite(start)) return null;
    const own = Number(lasts);
    begin = Math.min(begin, start);
    end = Math.max(end, start + (own > 0 ? own : usual));
  }
  return end > begin ? end - begin : null;
}

/** What a movie is when all of its pictures are decoded. @throws TallyError `ffmpeg-missing` */
export async function readBack(file: string, signal: AbortSignal): Promise<SeenMovie> {
  const text = await printedBy(
    "ffprobe",
    [
      // By itself it decodes on one processor.
      ...["-threads", String(availableParallelism())],
      ...["-v", "error", "-select_streams", "v:0", "-count_frames", "-of", "json"],
      ...[
        "-show_entries",
        "stream=nb_read_frames,r_frame_rate,width,height,duration:stream_tags:format=duration",
      ],
      file,
    ],
    signal,
  );
  const probed = JSON.parse(text) as Probed;
  const stream = probed.streams?.[0] ?? {};
  const [numerator, denominator] = (stream.r_frame_rate ?? "").split("/").map(Number);
  const rate = makeRate(numerator ?? 0, denominator ?? 0);
  return {
    frames: Number(stream.nb_read_frames ?? 0),
    width: stream.width ?? 0,
    height: stream.height ?? 0,
    rate,
    duration: durationOf(probed, rate),
  };
}
