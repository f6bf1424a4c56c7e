/** Logs of runs and frames, newest lines, in the order in which they were said. */
import { pool } from "../db/pool";
import { type LogFilter, logOfFrame, logOfRun, type LogRow } from "../store/attempt-lines";
import type { LogLine } from "@/contract/run-view";

/** That a page shows; the file beside the frames has all. */
const LOG_LINES = 200;

/** As they were said. */
const oldestFirst = (lines: readonly LogRow[]): LogLine[] =>
  lines.map((l) => ({ ...l, at: l.at.getTime() })).reverse();

/** The newest lines of a run's log that the filter lets through, in the order in which they were said. */
export const viewLog = async (runId: number, filter: LogFilter): Promise<LogLine[]> =>
  oldestFirst(await logOfRun(pool(), runId, LOG_LINES, filter));

/** @param leadId beauty sequence of the frame's camera */
export const viewFrameLog = async (leadId: number, frame: number, search: string): Promise<LogLine[]> =>
  oldestFirst(await logOfFrame(pool(), leadId, frame, LOG_LINES, search));
