/** A movie from a reel: fed to ffmpeg, written under a temporary name, read back. It is given its name by whoever asked. */
import fs from "node:fs/promises";
import { CODEC_FACTS, encodeArguments, filterOf, keptAs, movieSize } from "@/core/handover/codecs";
import { played } from "@/core/handover/line-up";
import { rateEffect } from "@/core/handover/rate-effect";
import { GIF_GRAIN, movieFaults, USUAL_GRAIN } from "@/core/handover/read-back";
import { loopsShown, type MovieSettings } from "@/core/handover/wish";
import { durationSeconds } from "@/core/timing/rate";
import { pool } from "../db/pool";
import { TallyError } from "../errors";
import { requireSequence } from "../store/shots";
import { encode, encoderFor, readBack } from "./ffmpeg";
import { provenLossless } from "./lossless";
import type { Made, Making } from "./making";
import { moviePictures, type OtherSources } from "./movie-pictures";
import { type Reel, type ReelSource, sourceOfSequence } from "./reel";
import { soundArguments, soundUnder } from "./sound-under";

/** Share of the work that reading back is, about. */
const READ_BACK_SHARE = 0.1;

const otherSource = async (reel: Reel, id: number | null): Promise<ReelSource | null> => {
  if (id === null) return null;
  const sequence = await requireSequence(id, pool());
  if (sequence.project !== reel.sources[0]?.sequence.project)
    throw new TallyError("handover-wrong", { message: "The other sequence is one of another project." });
  return sourceOfSequence(sequence);
};

async function otherSources(reel: Reel, movie: MovieSettings): Promise<OtherSources> {
  return {
    beside: await otherSource(reel, movie.beside),
    behind: await otherSource(reel, movie.behind.kind === "sequence" ? movie.behind.sequenceId : null),
  };
}

/**
 * @param temporary where it is written; whoever calls removes it when this throws
 * @throws TallyError `ffmpeg-missing`, `ffmpeg-no-encoder`, `ffmpeg-failed`, `movie-other`, and what is wrong with pictures
 */
export async function makeMovie(
  reel: Reel,
  movie: MovieSettings,
  temporary: string,
  making: Making,
): Promise<Made> {
  const encoder = await encoderFor(movie.codec);
  const rate = movie.rate ?? reel.rate;
  const slots = played(reel.slots, { ...movie, loops: loopsShown(movie) });
  const seconds = durationSeconds(slots.length, rate);
  const pictures = await moviePictures(reel, movie, rate, await otherSources(reel, movie));
  const pixels = { hasAlpha: pictures.hasAlpha, isDeep: pictures.isDeep };
  const size = movieSize(pictures.size, movie, movie.codec);
  const { sound, warning } = CODEC_FACTS[movie.codec].hasSound
    ? await soundUnder(reel, movie, rate)
    : { sound: null, warning: null };
  const laid = sound === null ? null : soundArguments(sound, movie.container, seconds);
  const filter = filterOf(movie.codec, pictures.size, size, pixels);
  const proof = CODEC_FACTS[movie.codec].isLossless ? provenLossless(temporary) : null;
  const args = [
    ...pictures.input,
    ...(laid?.input ?? []),
    ...["-map", "0:v:0", "-vf", filter],
    ...(laid?.output ?? ["-an"]),
    ...encodeArguments(movie, pixels, encoder),
    ...["-y", `file:${temporary}`],
    ...(proof?.output(filter, keptAs(movie.codec, pixels)) ?? []),
  ];
  making.say(`ffmpeg ${args.join(" ")}`);
  try {
    await encode({
      args,
      signal: making.signal,
      onLine: making.say,
      onFrame: (frames) => making.onProgress((frames / slots.length) * (1 - READ_BACK_SHARE)),
      feed: (into) => pictures.feed(slots, into),
    });
    making.onProgress(1 - READ_BACK_SHARE);
    const seen = await readBack(temporary, making.signal);
    const faults = movieFaults(
      {
        frames: slots.length,
        rate,
        size: size.movie,
        grain: movie.codec === "gif" ? GIF_GRAIN : USUAL_GRAIN,
      },
      seen,
    );
    const unlike = await proof?.compare(keptAs(movie.codec, pixels), making.signal);
    if (unlike != null) throw new TallyError("movie-other", { faults: [unlike] });
    if (faults.length > 0) throw new TallyError("movie-other", { faults });
  } finally {
    await proof?.forget();
  }
  making.say(
    `read back: ${slots.length} frames at ${rate.numerator}/${rate.denominator}, ${seconds} s, as asked`,
  );
  const handle = await fs.open(temporary);
  await handle.sync().finally(() => handle.close());
  const effect = rateEffect(reel.slots.length, reel.rate, rate);
  return {
    frames: slots.length,
    rate,
    seconds,
    warnings: [
      ...(effect === null ? [] : [effect]),
      ...(movie.size !== null ||
      (size.movie.width === size.scaled.width && size.movie.height === size.scaled.height)
        ? []
        : [
            `${CODEC_FACTS[movie.codec].word} asks for even sides: ${size.scaled.width} x ${size.scaled.height} got a black line more and is ${size.movie.width} x ${size.movie.height}.`,
          ]),
      ...(warning === null ? [] : [warning]),
    ],
  };
}
