/** Makes what a handover asks for, under a temporary name: one file, or a folder of copies. */
import fs from "node:fs/promises";
import { tellsFaults } from "@/core/handover/wish";
import { durationSeconds } from "@/core/timing/rate";
import { TallyError } from "../errors";
import { freeBytes } from "../files/free-space";
import type { HandoverRow } from "../store/handovers";
import path from "node:path";
import { requireUndamaged } from "./deep-check";
import { madeFrom } from "./made-from";
import type { Made, Making } from "./making";
import { type Reel, requireWhole, troubleText } from "./reel";
import { freshReelOf } from "./reel-of-row";

export interface MadeHandover extends Made {
  readonly madeFrom: string;
  /** Of the sequence; of an edit, of the project. */
  readonly folder: string;
}

/** Less is no room: the disk is full, whatever a program made of it. */
const NO_ROOM_BYTES = 1_000_000;

const plain = (reel: Reel): Made => ({
  frames: reel.slots.length,
  rate: reel.rate,
  seconds: durationSeconds(reel.slots.length, reel.rate),
  warnings: [],
});

/** What makes a kind is read when one is made: a list needs no encoder, and no page a font. */
async function write(reel: Reel, { wish }: HandoverRow, temporary: string, making: Making): Promise<Made> {
  switch (wish.as) {
    case "movie":
      return (await import("./movie")).makeMovie(reel, wish.movie, temporary, making);
    case "sheet":
      await (await import("./sheet")).writeSheet(reel, wish.sheet, temporary, making);
      return plain(reel);
    case "page":
      await (await import("./write-moving-page")).writeMovingPage(reel, temporary, making);
      return plain(reel);
    case "frames":
      await (await import("./copy-frames")).copyFrames(reel, wish.copy, temporary, making);
      return plain(reel);
    case "report":
    case "case":
      await fs.writeFile(temporary, await (await import("./report")).reportOf(reel, Date.now()));
      return plain(reel);
    default:
      await fs.writeFile(temporary, await (await import("./write-lists")).textOf(reel, wish, making));
      return plain(reel);
  }
}

/**
 * @throws TallyError for what stops it: frames with troubles, a picture that went away, an encoder that failed, no room
 */
export async function makeHandover(
  row: HandoverRow,
  temporary: string,
  making: Making,
): Promise<MadeHandover> {
  const { wish } = row;
  const reel = await freshReelOf(row, wish);
  if (!tellsFaults(wish.as)) requireWhole(reel, wish.gaps);
  for (const note of reel.notes) making.say(note);
  if (wish.isDeep) await requireUndamaged(reel, making);
  try {
    const made = await write(reel, row, temporary, making);
    const troubles = reel.troubles.map(
      (trouble) => `${troubleText(reel, trouble)}: ${STOOD_FOR[wish.gaps]}.`,
    );
    return {
      ...made,
      warnings: [...reel.notes, ...(tellsFaults(wish.as) ? [] : troubles), ...made.warnings],
      madeFrom: madeFrom(reel),
      folder: reel.folder,
    };
  } catch (error) {
    const free = await freeBytes(path.dirname(temporary));
    if (free !== null && free < NO_ROOM_BYTES)
      throw new TallyError("file-enospc", {
        message: `There is no room left in ${path.dirname(temporary)}; nothing was kept of it.`,
      }).because(error);
    throw error;
  }
}

const STOOD_FOR = {
  stop: "left out",
  hold: "the frame before was held",
  card: "a card stands in its place",
} as const;
