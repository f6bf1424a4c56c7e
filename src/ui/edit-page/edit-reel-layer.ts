/** An edit as the player and the page ask it: what is seen at a place, and under which address. */
import type { EditShot, EditView } from "@/contract/edit-view";
import { numberOfPlace, type ReelStretch } from "@/core/edit/edit-reel";
import { FrameIndex } from "@/core/frames/frame-index";
import { lastAtOrBelow } from "@/core/frames/search";
import { PLAIN_READING, type Reading, readingOf } from "@/core/playback/shown-as";
import { unpackSet } from "@/core/tally/packed";
import { pictureUrl } from "../live/api";
import { BY_PLACE, type Reel } from "../viewer/reel";

export interface EditPlace {
  readonly stretch: ReelStretch;
  /** Null in a hole. */
  readonly shot: EditShot | null;
  /** Number of the file; null in a hole. */
  readonly frame: number | null;
}

export interface EditReel extends Reel {
  /** Null behind the end. */
  readonly placeAt: (place: number) => EditPlace | null;
  readonly readingAt: (place: number) => Reading;
}

export function makeEditReel({ stretches, shots }: EditView): EditReel {
  const byCode = new Map(
    shots.map((shot) => [
      shot.code,
      {
        shot,
        index: new FrameIndex(unpackSet(shot.frames)),
        reading: readingOf(shot, shot.pass, shot.isOurs),
      },
    ]),
  );
  const last = stretches.at(-1);
  const stretchAt = (place: number): ReelStretch | null => {
    const found = stretches[lastAtOrBelow(stretches.length, (i) => stretches[i]!.start, place)];
    return found !== undefined && place < found.start + found.length ? found : null;
  };
  const placeAt = (place: number): EditPlace | null => {
    const stretch = stretchAt(place);
    if (stretch === null) return null;
    const known = stretch.code === null ? undefined : byCode.get(stretch.code);
    const frame = known === undefined ? null : numberOfPlace(stretch, place - stretch.start);
    return { stretch, shot: known?.shot ?? null, frame };
  };
  return {
    count: last === undefined ? 0 : last.start + last.length,
    layers: 1,
    ...BY_PLACE,
    placeAt,
    addressAt: (place) => {
      const at = placeAt(place);
      if (at === null || at.shot === null || at.frame === null) return null;
      const position = byCode.get(at.shot.code)!.index.positionOf(at.frame);
      return position === null ? null : pictureUrl(at.shot.sequenceId, at.frame, at.shot.content[position]!);
    },
    readingAt: (place) => byCode.get(stretchAt(place)?.code ?? "")?.reading ?? PLAIN_READING,
  };
}
