/** A folder that something else has filled, as the page shows it before it is taken in. */
import pLimit from "p-limit";
import path from "node:path";
import type { FirstOf, FoundFolderView, FoundSequenceView } from "@/contract/take-in";
import { firstOf, lastOf } from "@/core/frames/frame-set";
import { formatPhrase } from "@/core/frames/phrase";
import { formatWord } from "@/core/image/check-file";
import { largest, least } from "@/core/many";
import { LONGEST_CODE } from "@/core/plan/shot";
import { packSet } from "@/core/tally/packed";
import type { Rate } from "@/core/timing/rate";
import {
  type FoundFolder,
  type FoundSequenceHere,
  knownAs,
  type PictureFacts,
  readPictureFacts,
} from "../folder/found-folder";

/** Names that are told of a list; of the others the number is. */
const SHOWN = 100;
/** Pictures that are read at one moment. */
const AT_ONCE = 4;

const firstNames = (names: readonly string[]): FirstOf => ({
  count: names.length,
  names: names.slice(0, SHOWN),
});

function viewSequence(
  { folder, found, camera, pass, known }: FoundSequenceHere,
  facts: PictureFacts | null,
): FoundSequenceView {
  const times = found.files.flatMap(({ modifiedMs }) => (modifiedMs === undefined ? [] : [modifiedMs]));
  const verdict = facts?.verdict;
  return {
    folder,
    prefix: found.prefix,
    suffix: found.suffix,
    camera,
    pass,
    name: found.name,
    frames: packSet(found.frames),
    first: firstOf(found.frames)!,
    last: lastOf(found.frames)!,
    count: found.frames.count,
    missing: formatPhrase(found.missing),
    missingCount: found.missing.count,
    widths: found.widths,
    doubles: firstNames(found.doubles.map(({ files }) => files.join(" and "))),
    bytes: found.bytes,
    oldestMs: times.length === 0 ? null : least(times),
    newestMs: times.length === 0 ? null : largest(times),
    size:
      verdict?.width == null || verdict.height === null
        ? null
        : { width: verdict.width, height: verdict.height },
    format:
      verdict?.format == null
        ? ""
        : `${formatWord(verdict.format)}${verdict.bitDepth === null ? "" : `, ${verdict.bitDepth} bits`}`,
    known: known === null ? null : knownAs(known),
  };
}

/** The last folder of a path, as a code may be. */
const codeOf = (folder: string): string =>
  (folder.split("/").at(-1) ?? "")
    .replace(/[^A-Za-z0-9_-]+/g, "-")
    .replace(/^-+|-+$/g, "")
    .slice(0, LONGEST_CODE);

/** @param rate of the project: where the files say none */
export async function viewFoundFolder(found: FoundFolder, rate: Rate): Promise<FoundFolderView> {
  const few = pLimit(AT_ONCE);
  const facts = await Promise.all(found.sequences.map((s) => few(() => readPictureFacts(found.path, s))));
  const meaning = facts.find((f) => f !== null)?.meaning ?? null;
  return {
    root: found.place.root,
    folder: found.place.folder,
    path: found.path,
    files: found.files,
    bytes: found.sequences.reduce((sum, s) => sum + s.found.bytes, 0),
    sequences: found.sequences.map((s, i) => viewSequence(s, facts[i] ?? null)),
    others: firstNames(found.others),
    leftovers: firstNames(found.leftovers),
    unreadable: found.unreadable.slice(0, SHOWN),
    links: firstNames(found.links),
    rate: meaning?.rate ?? { value: rate, why: "it is the project's" },
    alpha: meaning?.alpha ?? { value: "none", why: "no picture could be read" },
    isLinear: meaning?.isLinear ?? { value: false, why: "no picture could be read" },
    code: codeOf(found.place.folder === "" ? path.basename(found.path) : found.place.folder),
  };
}
