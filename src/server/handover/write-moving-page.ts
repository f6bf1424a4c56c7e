/** The moving page on its way to its file, a picture at a time. */
import fs from "node:fs/promises";
import { movingPageEnd, movingPageHead, movingPagePicture } from "@/core/handover/moving-page";
import { TallyError } from "../errors";
import { inOrder } from "../in-order";
import type { Making } from "./making";
import type { Reel } from "./reel";
import { troubleText } from "./reel";
import { noWider, smallPictures } from "./shown-jpeg";

/** Wide enough to judge motion, small enough to be mailed. */
const WIDEST = 960;
const QUALITY = 78;
/** Five minutes at 24 a second; a browser keeps all of them. */
const MOST_PICTURES = 7_200;

/** @throws TallyError `handover-wrong` for more pictures than a page holds */
export async function writeMovingPage(reel: Reel, temporary: string, making: Making): Promise<void> {
  if (reel.slots.length > MOST_PICTURES)
    throw new TallyError("handover-wrong", {
      message: `A moving page holds ${MOST_PICTURES} pictures at most; ${reel.slots.length} were asked for: make a movie.`,
    }).at("frames");
  const size = noWider(reel.size!, WIDEST);
  const page = {
    title: reel.title,
    rate: reel.rate,
    ...size,
    notes: [...reel.notes, ...reel.troubles.map((trouble) => troubleText(reel, trouble))],
  };
  const pictures = smallPictures(reel, { stops: 0, view: null }, size, QUALITY);
  const file = await fs.open(temporary, "w");
  try {
    await file.write(movingPageHead(page));
    let n = 0;
    for await (const jpeg of inOrder(reel.slots.length, pictures.atOnce + 1, (i) =>
      pictures.of(reel.slots[i]!),
    )) {
      making.signal.throwIfAborted();
      const slot = reel.slots[n++]!;
      const label = reel.sources.length > 1 ? labelOf(reel, slot) : String(slot.frame ?? "");
      await file.write(movingPagePicture(label, jpeg.toString("base64")));
      making.onProgress(n / reel.slots.length);
    }
    await file.write(movingPageEnd(page));
  } finally {
    await file.close();
    await pictures.close();
  }
}

const labelOf = (reel: Reel, { of, frame }: Reel["slots"][number]): string =>
  of === null ? "" : `${reel.sources[of]!.sequence.shot} ${frame ?? ""}`;
