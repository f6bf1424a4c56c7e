/**
 * The realistic mess on HL010's files, made after its run: deleted, cut short and empty files, a
 * frame that pops and one that froze. All on the files themselves; the folder watch finds it.
 * (The frames without a texture come from the node that did not see the file.)
 */
import fs from "node:fs/promises";
import path from "node:path";
import sharp from "sharp";
import { setTimeout as pause } from "node:timers/promises";
import { addTexts } from "@/core/image/add-texts";
import { readImageTexts } from "@/core/image/check-file";
import { rgb8 } from "@/core/image/pixels";
import { writePng } from "@/core/image/png-write";
import { padFrame } from "@/core/naming/pattern";
import { dataFolder } from "@/server/configuration";
import { pool } from "@/server/db/pool";
import { imageTools } from "@/server/files/image-tools";
import { listVersions, sequencesOfVersion } from "@/server/store/shots";
import { runsOfVersion } from "@/server/store/runs";
import { sequencePlace } from "@/server/files/layout";
import { requireShot } from "@/server/store/find-shot";
import { PROJECT } from "./project";

const DELETED = [1007, 1040, 1041];
const CUT_SHORT = { frame: 1058, share: 0.41 };
const EMPTIED = 1077;
const POP = { frame: 1067, gain: 1.5 };
/** Shows the picture of the frame before. */
const FROZEN = 1085;
const LOOK_EVERY_MS = 500;

const markFile = (): string => path.join(dataFolder(), "frames/.harbour-lights-mess");

/** Whether it was made: a mark beside the frames, so that a demo started twice is not damaged twice. */
export const isMessed = async (): Promise<boolean> => (await fs.stat(markFile()).catch(() => null)) !== null;

async function waitForRun(versionId: number): Promise<void> {
  for (;;) {
    const [run] = (await runsOfVersion(pool(), versionId, "sequence", 100)).slice(-1);
    if (run?.state === "done") return;
    await pause(LOOK_EVERY_MS);
  }
}

/** Writes `file` anew with brighter pixels and the texts it had. */
async function brighten(file: string, gain: number): Promise<void> {
  const bytes = await fs.readFile(file);
  const { data, info } = await sharp(bytes).removeAlpha().raw().toBuffer({ resolveWithObject: true });
  const brighter = Uint8Array.from(data, (v) => Math.min(255, Math.round(v * gain)));
  await fs.writeFile(
    file,
    writePng(rgb8(info.width, info.height, brighter), Object.fromEntries(readImageTexts(bytes)), imageTools),
  );
}

/** Shows the frame before, and says of itself what it is: what a renderer writes that did not follow the scene. */
async function freeze(file: string, before: string): Promise<void> {
  const said = Object.fromEntries(readImageTexts(await fs.readFile(file)));
  await fs.writeFile(file, addTexts(await fs.readFile(before), said, imageTools.crc32));
}

/** Waits for the run of HL010 and damages what it made. Once. */
export async function makeMess(): Promise<void> {
  if (await isMessed()) return;
  const { shot } = await requireShot(`${PROJECT.slug}/HL010`);
  const [version] = await listVersions(pool(), shot.id);
  const [sequence] = await sequencesOfVersion(pool(), version!.id);
  await waitForRun(version!.id);
  const file = (frame: number): string =>
    path.join(sequencePlace(sequence!), `HL010_beauty.${padFrame(frame, 4)}.png`);
  for (const frame of DELETED) await fs.rm(file(frame), { force: true });
  const { size } = await fs.stat(file(CUT_SHORT.frame));
  await fs.truncate(file(CUT_SHORT.frame), Math.round(size * CUT_SHORT.share));
  await fs.truncate(file(EMPTIED), 0);
  await brighten(file(POP.frame), POP.gain);
  await freeze(file(FROZEN), file(FROZEN - 1));
  await fs.writeFile(markFile(), "");
}
