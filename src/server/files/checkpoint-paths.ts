/** Where the saved samples of a version lie: one file a frame and camera, and the one before it while a new one is put in place. */
import path from "node:path";
import { padFrame } from "@/core/naming/pattern";

const ENDING = ".checkpoint";
const BEFORE = ".before";
const DIGITS = 6;

export const checkpointFolder = (versionFolder: string, camera: string): string =>
  path.join(versionFolder, ".tally", "checkpoints", camera);

export const checkpointFile = (folder: string, frame: number): string =>
  path.join(folder, `${padFrame(frame, DIGITS)}${ENDING}`);

export const checkpointBefore = (folder: string, frame: number): string =>
  path.join(folder, `${padFrame(frame, DIGITS)}${BEFORE}${ENDING}`);

/** Frame of a name in the folder; null for what is no checkpoint in its place. */
export function frameOfCheckpoint(name: string): number | null {
  if (!name.endsWith(ENDING)) return null;
  const number = name.slice(0, -ENDING.length);
  return /^-?\d+$/.test(number) ? Number(number) : null;
}
