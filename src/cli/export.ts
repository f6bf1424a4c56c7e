/** `plain-tally export`: hands something over, waits for it, and says where it lies. */
import path from "node:path";
import { setTimeout as pause } from "node:timers/promises";
import { wishOf } from "@/contract/handover";
import { type Codec, CODEC_FACTS, CODECS, endingOf } from "@/core/handover/codecs";
import { GAPS } from "@/core/handover/line-up";
import { HANDOVER_KINDS, type MovieSettings, USUAL_MOVIE, type Wish, withCodec } from "@/core/handover/wish";
import { parseRate, type Rate } from "@/core/timing/rate";
import { FAULTS, type FaultCode } from "@/contract/faults";
import { isDatabaseAway } from "@/server/db/away";
import { pool } from "@/server/db/pool";
import { TallyError } from "@/server/errors";
import { attemptHandover } from "@/server/handover/attempt";
import { createHandover } from "@/server/handover/create";
import { claimOneHandover } from "@/server/queue/handover-lease";
import { LEASE_SECONDS } from "@/server/queue/lease";
import { requireProject, requireShot } from "@/server/store/find-shot";
import { handoverById } from "@/server/store/handovers";
import { CallWrong, complain, EXIT, type ExitCode, oneOf, print, printJson } from "./command";
import { presetOf } from "./movie-preset";
import { findSequence, type SequenceOptions } from "./shots";
import { whoCalls } from "./who";

export interface ExportOptions extends SequenceOptions {
  readonly as: string;
  /** A file or a folder that is not there yet. */
  readonly out?: string;
  readonly frames?: string;
  readonly gaps?: string;
  readonly rate?: string;
  readonly codec?: string;
  readonly preset?: string;
  /** Settings of its kind, as JSON. */
  readonly settings?: string;
  /** Every file is unpacked first. */
  readonly deep?: boolean;
  /** What becomes of it is told by the program that the house declares. */
  readonly tell?: boolean;
  /** The edit of the project in the place of a shot. */
  readonly edit?: boolean;
  readonly json?: boolean;
}

function rateOf(text: string | undefined): Rate | null {
  if (text === undefined) return null;
  const rate = parseRate(text);
  if (rate === null)
    throw new CallWrong(`--rate is 24, 23.976 or a fraction such as 24000/1001; it is "${text}"`);
  return rate;
}

/** What the ending of the file says, where nobody says more: the codec that is usual for it. */
const CODEC_OF_ENDING: Readonly<Record<string, Codec>> = {
  mp4: "h264",
  mov: "h264",
  webm: "vp9",
  mkv: "ffv1",
  gif: "gif",
  png: "apng",
};

/** As on the page: a preset, then a codec, then what is said one by one. */
async function movieOf(options: ExportOptions, settings: object): Promise<MovieSettings> {
  const preset = options.preset === undefined ? null : await presetOf("--preset", options.preset);
  let movie = preset ?? USUAL_MOVIE;
  const ending = path
    .extname(options.out ?? "")
    .slice(1)
    .toLowerCase();
  const meant = preset === null ? CODEC_OF_ENDING[ending] : undefined;
  if (options.codec !== undefined) movie = withCodec(movie, oneOf("--codec", options.codec, CODECS));
  else if (meant !== undefined) movie = withCodec(movie, meant);
  const { containers, word } = CODEC_FACTS[movie.codec];
  const container = containers.find((c) => endingOf(c) === ending);
  if (ending !== "" && container === undefined)
    throw new CallWrong(
      `${word} goes into ${containers.map(endingOf).join(" or ")}, and --out ends in ${ending}`,
    );
  return {
    ...movie,
    ...(container === undefined ? {} : { container }),
    rate: rateOf(options.rate),
    ...settings,
  };
}

function settingsOf(text: string | undefined): object {
  if (text === undefined) return {};
  try {
    const value: unknown = JSON.parse(text);
    if (typeof value === "object" && value !== null && !Array.isArray(value)) return value;
  } catch {
    // Told below.
  }
  throw new CallWrong(`--settings is a JSON object, such as '{"percent":50}'; it is "${text}"`);
}

async function wishOfCall(options: ExportOptions): Promise<Wish> {
  const as = oneOf("--as", options.as, HANDOVER_KINDS);
  const settings = settingsOf(options.settings);
  const { checkWish } = await import("@/contract/handover");
  const body = {
    as,
    ...(options.frames === undefined ? {} : { frames: options.frames }),
    ...(options.gaps === undefined ? {} : { gaps: oneOf("--gaps", options.gaps, GAPS) }),
    ...(options.deep === true ? { isDeep: true } : {}),
    ...(options.tell === true ? { tells: true } : {}),
    ...(as === "movie" ? { movie: await movieOf(options, settings) } : {}),
    ...(as === "sheet" ? { sheet: settings } : {}),
    ...(as === "frames" ? { copy: settings } : {}),
    ...(as === "otio" ? { rate: rateOf(options.rate) } : {}),
  };
  const checked = checkWish(body);
  if (!checked.ok) throw new CallWrong(checked.faults.map((f) => `${f.path} ${f.message}`).join("; "));
  return wishOf(checked.value);
}

/** Of what it is: a sequence of a shot, or a project's edit. */
async function handedOver(name: string, options: ExportOptions) {
  if (options.edit === true) return { projectId: (await requireProject(name)).id, sequenceId: null } as const;
  const { project } = await requireShot(name);
  return { projectId: project.id, sequenceId: (await findSequence(name, options)).id };
}

/** Goes on when the database is back. */
async function whileAway(work: () => Promise<void>): Promise<void> {
  for (;;) {
    try {
      return await work();
    } catch (error) {
      if (!isDatabaseAway(error)) throw error;
      await pause(1_000);
    }
  }
}

/** @param name of a shot; with --edit, of a project */
export async function exportCommand(name: string, options: ExportOptions): Promise<ExitCode> {
  const wish = await wishOfCall(options);
  const created = await createHandover({
    ...(await handedOver(name, options)),
    wish,
    who: whoCalls(),
    runId: null,
    outside: options.out === undefined ? null : path.resolve(options.out),
  });
  const stop = new AbortController();
  for (const signal of ["SIGINT", "SIGTERM"] as const) process.once(signal, () => stop.abort());
  // A node may be quicker: then it is waited for.
  const lease = await claimOneHandover(pool(), created.id, null);
  if (lease !== null) {
    const end = await attemptHandover(
      { pool: pool(), leaseSeconds: LEASE_SECONDS, stop: stop.signal, whileAway },
      lease,
    );
    if (end === "given-back") {
      complain(`stopped; handover ${created.id} waits for a node`);
      return EXIT.frames;
    }
  }
  for (;;) {
    const row = await handoverById(pool(), created.id);
    if (row === null || row.state === "stopped") throw new TallyError("handover-over");
    if (row.state === "failed") {
      const { code, message } = row.fault!;
      complain(message);
      return Object.hasOwn(FAULTS, code) ? FAULTS[code as FaultCode].exit : EXIT.system;
    }
    if (row.state === "done") {
      const result = row.result!;
      if (options.json) printJson(result);
      else {
        print(result.path);
        for (const warning of result.warnings) complain(warning);
      }
      return EXIT.fine;
    }
    await pause(500);
  }
}
