/**
 * Files of proofs: pictures apart from the sequence that they were made for.
 * A proof's file never enters a tally, whatever its plan was; "use these" copies it into the sequence
 * first. What it took is read together with its attempt.
 */
import type { Pass } from "@/core/plan/passes";
import { type Db, row, rows, write } from "../db/rows";

export interface ProofFile {
  /** The run of the proof. */
  readonly runId: number;
  /** The sequence that the file would belong to. */
  readonly sequenceId: number;
  readonly frame: number;
  readonly attemptId: number;
  /** Name of the node that made it. */
  readonly node: string;
  /** Relative to the version's folder. */
  readonly path: string;
  /** Of the file as written. */
  readonly bytes: number;
  /** SHA-256 of the bytes. */
  readonly content: string;
  /** Pixels. */
  readonly width: number;
  /** Pixels. */
  readonly height: number;
  /** Fingerprint of what decides the picture. */
  readonly look: string;
  /** Fingerprint of how much was asked for. */
  readonly effort: string;
  /** Fingerprint of the kind of file. */
  readonly file: string;
  /** A pixel. */
  readonly samples: number;
  /** Mean, Rec. 709, 0 to 1. */
  readonly luminance: number;
  /** Grain, as a share of white. */
  readonly noise: number;
}

/** A proof file with what its attempt cost. */
export interface TimedProof extends ProofFile {
  readonly camera: string;
  readonly pass: Pass;
  /** Before the first sample. */
  readonly startupSeconds: number;
  readonly renderSeconds: number;
  readonly denoiseSeconds: number;
  readonly writeSeconds: number;
  /** What ended the sampling; null where the renderer does not say. */
  readonly stoppedBy: "samples" | "noise" | "time" | null;
  /** Share of the machine that other programs used meanwhile. */
  readonly otherLoad: number | null;
  /** Processor seconds of the renderer for each second by the clock. */
  readonly cpuShare: number | null;
}

const COLUMNS = `f.run_id AS runId, f.sequence_id AS sequenceId, f.frame, f.attempt_id AS attemptId, f.node,
      f.path, f.bytes, f.content, f.width, f.height, f.look, f.effort, f.file, f.samples,
      f.luminance, f.noise`;

/** Notes the picture of a proof. It lies outside the sequence's folder and never enters a tally. */
export async function saveProofFile(db: Db, p: ProofFile): Promise<void> {
  await write(
    db,
    `REPLACE INTO proof_file (
        run_id, sequence_id, frame, attempt_id, node, path, bytes, content, width, height, look,
          effort, file, samples, luminance, noise
      )
      VALUES (?, ?, ?, ?, ?, ?, ?, ?, ?, ?, ?, ?, ?, ?, ?, ?)`,
    [
      p.runId,
      p.sequenceId,
      p.frame,
      p.attemptId,
      p.node,
      p.path,
      p.bytes,
      p.content,
      p.width,
      p.height,
      p.look,
      p.effort,
      p.file,
      p.samples,
      p.luminance,
      p.noise,
    ],
  );
}

const TIMED = `SELECT ${COLUMNS}, q.camera, q.pass, COALESCE(a.startup_seconds, 0) + 0e0 AS startupSeconds,
    COALESCE(a.render_seconds, 0) + 0e0 AS renderSeconds,
    COALESCE(a.denoise_seconds, 0) + 0e0 AS denoiseSeconds,
    COALESCE(a.write_seconds, 0) + 0e0 AS writeSeconds, a.stopped_by AS stoppedBy,
    a.other_load AS otherLoad, a.cpu_share AS cpuShare
  FROM proof_file f
  JOIN sequence q ON q.id = f.sequence_id
  JOIN attempt a ON a.id = f.attempt_id`;

/** Proof files of a version's newest proofs, newest first. */
export const proofsOfVersion = (db: Db, versionId: number, limit: number): Promise<TimedProof[]> =>
  rows<TimedProof>(
    db,
    `${TIMED}
      WHERE q.version_id = ?
      ORDER BY f.run_id DESC, q.camera, f.frame, q.pass
      LIMIT ?`,
    [versionId, limit],
  );

/** Proofs of one run with the seconds that each took, by camera, frame and pass. */
export const proofsOfRun = (db: Db, runId: number): Promise<TimedProof[]> =>
  rows<TimedProof>(db, `${TIMED} WHERE f.run_id = ? ORDER BY q.camera, f.frame, q.pass`, [runId]);

/** Where the picture of one proof lies; null where none was made. */
export const proofFile = (
  db: Db,
  runId: number,
  sequenceId: number,
  frame: number,
): Promise<ProofFile | null> =>
  row<ProofFile>(
    db,
    `SELECT ${COLUMNS}
      FROM proof_file f
      WHERE f.run_id = ? AND f.sequence_id = ? AND f.frame = ?`,
    [runId, sequenceId, frame],
  );
