/**
 * Tables that a tally is made of, parents first: what of them goes to the records beside the frames, and how a row is
 * put back. What is left out is told at the end.
 */

/** One name, a way down from a folder, or a place below a root as JSON. */
export type PathKind = "name" | "way" | "place";

export interface RecordTable {
  readonly name: string;
  /** Columns that name a row. */
  readonly key: readonly string[];
  /** Columns that hold the number of a row of another table. */
  readonly parents: Readonly<Record<string, string>>;
  /** SQL of the project of a row `r`; what it says of none, and null here, belongs to the house: every record has it. */
  readonly project: string | null;
  /** Columns whose change alone is no news: signs of life, leases, progress. */
  readonly quiet: readonly string[];
  /** Columns that become part of a path on disk. */
  readonly paths: Readonly<Record<string, PathKind>>;
  /** Columns by which a row of the house is known again where its number is another's. */
  readonly sameBy: readonly string[];
}

const ofShot = (shot: string): string => `(SELECT s.project_id FROM shot s WHERE s.id = ${shot})`;
const ofVersion = (version: string): string =>
  `(SELECT s.project_id FROM version v JOIN shot s ON s.id = v.shot_id WHERE v.id = ${version})`;
const ofSequence = (sequence: string): string =>
  `(SELECT s.project_id
    FROM sequence q
    JOIN version v ON v.id = q.version_id
    JOIN shot s ON s.id = v.shot_id
    WHERE q.id = ${sequence})`;
const OF_SEQUENCE = ofSequence("r.sequence_id");
const OF_RUN = ofSequence("(SELECT n.sequence_id FROM run n WHERE n.id = r.run_id)");
const OF_ATTEMPT = ofSequence("(SELECT a.sequence_id FROM attempt a WHERE a.id = r.attempt_id)");

const ID = ["id"];
const table = (
  name: string,
  project: string | null,
  how: Partial<Omit<RecordTable, "name" | "project">> = {},
): RecordTable => ({ name, project, key: ID, parents: {}, quiet: [], paths: {}, sameBy: [], ...how });

export const RECORD_TABLES: readonly RecordTable[] = [
  table("setting", null, { key: ["name"], sameBy: ["name"] }),
  table("preset", null, { sameBy: ["name"] }),
  table("movie_preset", null, { sameBy: ["name"] }),
  table("node", null, { quiet: ["seen_at", "takes", "encodes"], paths: { name: "name" }, sameBy: ["name"] }),
  table("node_request", null, { parents: { node_id: "node" }, sameBy: ["node_id", "asked_at", "question"] }),
  table("project", "r.id", { paths: { slug: "name", folder: "way" } }),
  table("shot", "r.project_id", { parents: { project_id: "project" }, paths: { code: "name" } }),
  table("version", ofShot("r.shot_id"), {
    parents: { shot_id: "shot", from_revision_id: "plan_revision" },
    paths: { named_project: "name", named_shot: "name" },
  }),
  table("plan_revision", ofVersion("r.version_id"), { parents: { version_id: "version" } }),
  table("sequence", ofVersion("r.version_id"), {
    parents: { version_id: "version" },
    paths: { camera: "name", pass: "name", source: "place" },
  }),
  table("edit", "r.project_id", { parents: { project_id: "project" } }),
  table("edit_use", ofShot("r.shot_id"), { parents: { shot_id: "shot" } }),
  table("run", OF_SEQUENCE, {
    parents: { sequence_id: "sequence", after_run_id: "run" },
    paths: { handout: "way" },
  }),
  table("run_version", ofVersion("r.version_id"), {
    key: ["run_id", "version_id"],
    parents: { run_id: "run", version_id: "version", revision_id: "plan_revision" },
    paths: { scene_folder: "way" },
  }),
  table("run_share", OF_RUN, { key: ["run_id", "machine"], parents: { run_id: "run" } }),
  table("task", OF_SEQUENCE, {
    parents: {
      run_id: "run",
      sequence_id: "sequence",
      node_id: "node",
      avoid_node_id: "node",
      reserved_node_id: "node",
      attempt_id: "attempt",
    },
    quiet: ["token", "lease_until", "progress", "not_before", "reserved_node_id"],
  }),
  table("attempt", OF_SEQUENCE, {
    parents: { task_id: "task", run_id: "run", sequence_id: "sequence", node_id: "node" },
  }),
  table("attempt_line", OF_ATTEMPT, { parents: { attempt_id: "attempt" } }),
  table("node_aside", OF_RUN, {
    parents: { node_id: "node", run_id: "run" },
    sameBy: ["node_id", "run_id", "at"],
  }),
  table("frame_file", OF_SEQUENCE, {
    key: ["sequence_id", "frame"],
    parents: { sequence_id: "sequence", attempt_id: "attempt" },
    paths: { name: "name" },
  }),
  table("finding", OF_SEQUENCE, { parents: { sequence_id: "sequence" } }),
  table("proof_file", OF_SEQUENCE, {
    key: ["run_id", "sequence_id", "frame"],
    parents: { run_id: "run", sequence_id: "sequence", attempt_id: "attempt" },
    paths: { path: "way" },
  }),
  table("checkpoint", OF_SEQUENCE, {
    key: ["sequence_id", "frame"],
    parents: { sequence_id: "sequence" },
  }),
  table("handover", "r.project_id", {
    parents: { project_id: "project", sequence_id: "sequence", run_id: "run", node_id: "node" },
    quiet: ["token", "lease_until", "progress"],
    paths: { name: "name" },
  }),
  table("deed", `COALESCE(r.project_id, ${ofShot("r.shot_id")}, ${ofVersion("r.version_id")}, ${OF_RUN})`, {
    parents: {
      run_id: "run",
      version_id: "version",
      node_id: "node",
      shot_id: "shot",
      project_id: "project",
    },
    sameBy: ["node_id", "at", "did", "who"],
  }),
];

/** Tables that no record has: news for open pages, small pictures of frames in work, and what this house is. */
export const NOT_IN_RECORDS: readonly string[] = [
  // Accounts are the database's own, and so is what it runs.
  "node_invitation",
  "installed",
  // A batch system knows its own arrays; a house that was lost sends anew.
  "webhook",
  "webhook_call",
  "dispatch",
  "array_job",
  "person",
  "session",
  "audit",
  "event",
  "frame_preview",
  "frame_measure",
  "measure_task",
  "record_outbox",
  "record_file",
  "record_behind",
  "record_go",
  "schema_migration",
];
