/** What answers of the server are kept under. */
import type { ShotName } from "./api";
/** A key that begins another one covers it: asking for `shots` anew asks for every ledger. */
export const queryKeys = {
  projects: ["shots", "projects"] as const,
  shots: ["shots"] as const,
  shotsOf: (project: string) => ["shots", project] as const,
  codes: (project: string) => ["shots", project, "codes"] as const,
  edit: (project: string) => ["shots", project, "edit"] as const,
  shot: ({ project, code }: ShotName) => ["shot", project, code] as const,
  wantedShot: (name: ShotName, wanted: WantedSequence) => [...queryKeys.shot(name), wanted] as const,
  sequences: ["sequence"] as const,
  sequence: (id: number) => ["sequence", id] as const,
  odd: (id: number) => ["odd", id] as const,
  measures: (id: number) => ["measures", id] as const,
  patch: (project: string, code: string) => ["patch", project, code] as const,
  history: (id: number, frame: number) => ["history", id, frame] as const,
  circumstances: (id: number) => ["circumstances", id] as const,
  asides: ["aside"] as const,
  logs: ["log"] as const,
  presets: ["presets"] as const,
  moviePresets: ["movie-presets"] as const,
  me: ["me"] as const,
  people: ["people"] as const,
  audit: ["audit"] as const,
  nodes: ["nodes"] as const,
  invitations: ["nodes", "invitations"] as const,
  cluster: ["cluster"] as const,
  settings: ["settings"] as const,
  runs: ["runs"] as const,
  handovers: ["handovers"] as const,
  handoversAt: (address: string) => [...queryKeys.handovers, address] as const,
  handover: (id: number) => ["handover", id] as const,
  preflight: (sequenceId: number) => ["preflight", sequenceId] as const,
  allProofs: ["proofs"] as const,
  proofs: (sequenceId: number) => ["proofs", sequenceId] as const,
};

export interface WantedSequence {
  /** As the address has it; null where it says nothing. */
  readonly version: string | null;
  /** Null: the plan's first. */
  readonly camera: string | null;
  /** Null: the beauty. */
  readonly pass: string | null;
}
