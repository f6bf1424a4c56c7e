/** All that is known of one frame, out of its attempts, its findings, its files and what was measured of it. */
import fs from "node:fs/promises";
import path from "node:path";
import type { FrameEvent, FrameHistoryView } from "@/contract/frame-history";
import { pool } from "../db/pool";
import { acceptedFolder } from "../files/layout";
import { asideFolderOf, asideNamesIn, asidesByFrame } from "../folder/aside";
import { attemptsOfFrame } from "../store/attempts";
import { closedFindingsOfFrames, openFindingsOfFrames } from "../store/findings";
import { fileOfFrame } from "../store/frame-files";
import { measuresOfFrame } from "../store/measures";
import { requireSequence, type SequenceRow, sequencesOfVersion } from "../store/shots";

/** When they were put aside is when the system last changed their names. */
async function replacedOf(sequence: SequenceRow, frame: number): Promise<FrameEvent[]> {
  if (sequence.source !== null) return [];
  const folder = asideFolderOf(sequence);
  const of = async (place: string, isAccepted: boolean): Promise<FrameEvent[]> => {
    const names = asidesByFrame(await asideNamesIn(place)).get(frame) ?? [];
    const stats = await Promise.all(names.map((name) => fs.stat(path.join(place, name)).catch(() => null)));
    return names.flatMap((file, i) => {
      const stat = stats[i];
      return stat == null ? [] : [{ kind: "replaced", at: stat.ctimeMs, file, isAccepted } as const];
    });
  };
  return [...(await of(folder, false)), ...(await of(acceptedFolder(folder), true))];
}

/** @throws TallyError `sequence-unknown` */
export async function viewFrameHistory(sequenceId: number, frame: number): Promise<FrameHistoryView> {
  const sequence = await requireSequence(sequenceId);
  const lead = (await sequencesOfVersion(pool(), sequence.versionId)).find(
    ({ camera, pass }) => camera === sequence.camera && pass === "beauty",
  );
  const [file, attempts, open, closed, replaced, measures] = await Promise.all([
    fileOfFrame(pool(), sequenceId, frame),
    attemptsOfFrame(pool(), lead?.id ?? sequenceId, frame),
    openFindingsOfFrames(pool(), sequenceId, [frame]),
    closedFindingsOfFrames(pool(), sequenceId, [frame]),
    replacedOf(sequence, frame),
    measuresOfFrame(pool(), sequenceId, frame),
  ]);
  const events: FrameEvent[] = [
    ...attempts.map(({ startedAt, endedAt, runId, node, outcome, message }) => ({
      kind: "attempt" as const,
      at: startedAt.getTime(),
      run: runId,
      ...{ node, outcome, message },
      seconds: endedAt === null ? null : (endedAt.getTime() - startedAt.getTime()) / 1000,
    })),
    ...[...open, ...closed].map(({ createdAt, source, who, code, text }) => ({
      kind: "found" as const,
      at: createdAt.getTime(),
      ...{ source, who, code, text },
    })),
    ...closed.flatMap(({ closedAt, closedWho, state, text, why }) =>
      closedAt === null || state === "open"
        ? []
        : [{ kind: "closed" as const, at: closedAt.getTime(), who: closedWho, state, text, why }],
    ),
    ...replaced,
  ];
  return {
    frame,
    file:
      file === null
        ? null
        : {
            ...{ name: file.name, bytes: file.bytes, at: file.modifiedMs },
            ...{ node: file.node, samples: file.samples, seconds: file.seconds },
          },
    measures,
    events: events.sort((a, b) => b.at - a.at),
  };
}
