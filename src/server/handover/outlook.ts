/** What would come of a handover, before anything is made: told while somebody still chooses. */
import type { HandoverOutlook } from "@/contract/handover";
import { movieSize } from "@/core/handover/codecs";
import { played, type PictureSize } from "@/core/handover/line-up";
import { rateEffect } from "@/core/handover/rate-effect";
import { forecastBytes, type MadeMovie } from "@/core/handover/size-forecast";
import { loopsShown, type MovieSettings, tellsFaults, type Wish } from "@/core/handover/wish";
import { type FrameSet, setOf } from "@/core/frames/frame-set";
import { formatPhrase } from "@/core/frames/phrase";
import { durationSeconds } from "@/core/timing/rate";
import { pool } from "../db/pool";
import { TallyError } from "../errors";
import { handoversOfEdit, handoversOfSequences, namesOfHandovers } from "../store/handovers";
import { projectById } from "../store/projects";
import { requireSequence } from "../store/shots";
import { oddNow } from "../views/odd";
import { nextName, requirePossible } from "./create";
import { folderOfHandovers } from "./place";
import { type Reel, requireWhole } from "./reel";
import { type HandedOver, reelOf } from "./reel-of-row";

/** What it shows, in pictures and seconds. */
function lengthOf(reel: Reel, wish: Wish): Pick<HandoverOutlook, "rate" | "shown" | "seconds"> {
  if (wish.as !== "movie")
    return {
      rate: reel.rate,
      shown: reel.slots.length,
      seconds: durationSeconds(reel.slots.length, reel.rate),
    };
  const rate = wish.movie.rate ?? reel.rate;
  const shown = played(reel.slots, { ...wish.movie, loops: loopsShown(wish.movie) }).length;
  return { rate, shown, seconds: durationSeconds(shown, rate) };
}

/** Of a movie of pictures of a size. */
const movieOf = (pictures: PictureSize, movie: MovieSettings): PictureSize =>
  movieSize(movie.beside === null ? pictures : { ...pictures, width: pictures.width * 2 }, movie, movie.codec)
    .movie;

/** Handovers that a forecast looks back on. */
const LOOKS_BACK = 100;

/** Movies that were made of the same pictures, the newest first. */
async function madeBefore(
  { projectId, sequenceId }: HandedOver,
  pictures: PictureSize,
): Promise<readonly MadeMovie[]> {
  const made =
    sequenceId === null
      ? await handoversOfEdit(pool(), projectId, LOOKS_BACK)
      : await handoversOfSequences(pool(), [sequenceId], LOOKS_BACK);
  return made.flatMap(({ wish, result }) =>
    wish.as !== "movie" || result === null
      ? []
      : [
          {
            settings: wish.movie,
            size: movieOf(pictures, wish.movie),
            shown: result.frames,
            bytes: result.bytes,
          },
        ],
  );
}

/** Of copies, as much as the files have; of a movie, what its bit rate or one like it tells. */
async function bytesOf(
  of: HandedOver,
  reel: Reel,
  wish: Wish,
  { shown, rate }: Pick<HandoverOutlook, "rate" | "shown">,
): Promise<number | null> {
  if (wish.as === "movie")
    return reel.size === null
      ? null
      : forecastBytes(
          { settings: wish.movie, size: movieOf(reel.size, wish.movie), shown },
          rate,
          await madeBefore(of, reel.size),
        );
  if (wish.as !== "frames" || wish.copy.format !== "same") return null;
  return reel.slots.reduce(
    (sum, slot) =>
      sum + (slot.kind === "picture" ? (reel.sources[slot.of]!.files.get(slot.from)?.bytes ?? 0) : 0),
    0,
  );
}

/** Odd frames of a sequence that nobody has judged, as a sentence: none of them is held to be bad. */
async function oddNotes({ sequenceId }: HandedOver): Promise<readonly string[]> {
  if (sequenceId === null) return [];
  const { odd } = await oddNow(await requireSequence(sequenceId));
  const open = setOf(odd.filter(({ state }) => state === "open").map(({ frame }) => frame));
  return open.count === 0
    ? []
    : [`Odd among its neighbours, and not judged yet: ${formatPhrase(open)} (see Check).`];
}

const phraseOf = (reel: Reel, of: number, set: FrameSet): string =>
  reel.sources.length > 1 ? `${reel.sources[of]!.sequence.shot} ${formatPhrase(set)}` : formatPhrase(set);

/** @throws TallyError `phrase-wrong`, `handover-no-frames`, `handover-wrong`, `edit-none`, and what withPlace does */
export async function outlookOf(of: HandedOver, wish: Wish): Promise<HandoverOutlook> {
  requirePossible(wish);
  const reel = await reelOf(of, wish);
  const project = await projectById(pool(), of.projectId);
  if (project === null) throw new TallyError("project-unknown", { slug: null });
  const folder = await folderOfHandovers(project, wish);
  const length = lengthOf(reel, wish);
  let fault: HandoverOutlook["fault"] = null;
  try {
    if (!tellsFaults(wish.as)) requireWhole(reel, wish.gaps);
  } catch (error) {
    if (!(error instanceof TallyError)) throw error;
    fault = { code: error.code, message: error.message };
  }
  const effect = rateEffect(reel.slots.length, reel.rate, length.rate);
  return {
    frames: reel.frames,
    count: reel.slots.length,
    troubles: reel.troubles.map(({ kind, of: source, set }) => ({
      kind,
      frames: phraseOf(reel, source, set),
      count: set.count,
    })),
    size: reel.size,
    movie: wish.as !== "movie" || reel.size === null ? null : movieOf(reel.size, wish.movie),
    ...length,
    bytes: await bytesOf(of, reel, wish, length),
    name: await nextName(folder, reel.stem, wish, await namesOfHandovers(pool(), of.projectId, reel.stem)),
    warnings: [...reel.notes, ...(await oddNotes(of)), ...(effect === null ? [] : [effect])],
    fault,
  };
}
