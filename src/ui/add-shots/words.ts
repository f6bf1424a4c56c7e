/** What the doors say. */
import type { NewlyNeeded, ShotLineView } from "@/contract/shot-import";
import { frames } from "../words";

export const DOORS = {
  scene: {
    title: "A scene",
    sentence: "Drop a scene file with its textures, or its folder: each scene becomes a shot.",
  },
  frames: {
    title: "A folder of frames",
    sentence: "Rendered by something else? Its tally is kept too: the folder is read, never changed.",
  },
  list: {
    title: "A list",
    sentence: "Paste a table, or drop a .csv: code, title, first, last, scene, camera.",
  },
  edit: {
    title: "An edit",
    sentence: "Drop an .edl or .otio: each clip becomes a shot, with its range and handles.",
  },
} as const;

/** What will be done with a line. */
export const lineText = (kind: "made" | "changed" | "unchanged", line: ShotLineView): string =>
  kind === "unchanged"
    ? "as it is"
    : kind === "changed"
      ? line.changes.join("; ")
      : line.isSceneThere
        ? "new"
        : `new; its scene is not there yet`;

export const neededText = ({ code, frames: phrase, count, missing }: NewlyNeeded): string =>
  `${code}: ${phrase} newly shown, ${missing === 0 ? "all there" : `${frames(missing)} of ${count} not there yet`}`;
