/** What files of handovers are called: by what they are of and what they are, counted up. */
import { CODEC_FACTS, endingOf } from "./codecs";
import type { Wish } from "./wish";

/** Of the file, without the dot; null: it is a folder. */
export function endingOfWish(wish: Wish): string | null {
  switch (wish.as) {
    case "movie":
      return endingOf(wish.movie.container);
    case "sheet":
      return wish.sheet.format;
    case "frames":
      return null;
    case "list":
    case "patch":
      return "txt";
    case "concat":
      return "ffconcat";
    case "sums":
      return "sha256";
    case "page":
    case "report":
    case "case":
      return "html";
    case "csv":
    case "json":
    case "otio":
      return wish.as;
  }
}

/** Said in a name, where the ending does not say what it is. */
const WORD: Partial<Readonly<Record<Wish["as"], string>>> = {
  sheet: "sheet",
  page: "page",
  report: "report",
  case: "case",
  patch: "patch-list",
  frames: "frames",
};

const NUMBER_DIGITS = 3;

/** @param of as in `HL010_v001_main_beauty`; @param number from 1 */
export function handoverName(of: string, wish: Wish, number: number): string {
  const word = WORD[wish.as];
  const ending = endingOfWish(wish);
  const stem = [of, ...(word === undefined ? [] : [word]), String(number).padStart(NUMBER_DIGITS, "0")].join(
    "_",
  );
  return ending === null ? stem : `${stem}.${ending}`;
}

/** In a few words, for lists of handovers. */
export function wishWord(wish: Wish): string {
  switch (wish.as) {
    case "movie":
      return `Movie, ${CODEC_FACTS[wish.movie.codec].word.split(",")[0]!}`;
    case "sheet":
      return `Contact sheet, ${wish.sheet.format.toUpperCase()}`;
    case "frames":
      return "Copy of the frames";
    case "list":
      return "List of paths";
    case "patch":
      return "Patch list";
    case "concat":
      return "List for ffmpeg";
    case "sums":
      return "Checksums";
    case "page":
      return "Moving page";
    case "report":
      return "Report";
    case "case":
      return "Report of a closed case";
    case "csv":
      return "Tally as CSV";
    case "json":
      return "Tally as JSON";
    case "otio":
      return "Clip for the edit";
  }
}
