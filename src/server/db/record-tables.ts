/**
 * Tables that a tally is made of, parents first: what of them goes to the records beside the frames, and how a row is
 * put back. What is left out is told at the end.
 */

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
): RecordTable => ({ name, project, key: ID, parents: {}, quiet: [], sameBy: [], ...how });

export const RECORD_TABLES: readonly RecordTable[] = [
  table("setting", null, { key: ["name"], sameBy: ["name"] }),
  table("preset", null, { sameBy: ["name"] }),
  table("node", null, { quiet: ["seen_at", "takes"], sameBy: ["name"] }),
  table("node_request", null, { parents: { node_id: "node" }, sameBy: ["node_id", "asked_at", "question"] }),
  table("project", "r.id"),
  table("shot", "r.project_id", { parents: { project_id: "project" } }),
  table("version", ofShot("r.shot_id"), {
    parents: { shot_id: "shot", from_revision_id: "plan_revision" },
  }),
  table("plan_revision", ofVersion("r.version_id"), { parents: { version_id: "version" } }),
  table("sequence", ofVersion("r.version_id"), { parents: { version_id: "version" } }),
  table("edit", "r.project_id", { parents: { project_id: "project" } }),
  table("edit_use", ofShot("r.shot_id"), { parents: { shot_id: "shot" } }),
  table("run", OF_SEQUENCE, { parents: { sequence_id: "sequence", after_run_id: "run" } }),
  table("run_version", ofVersion("r.version_id"), {
    key: ["run_id", "version_id"],
    parents: { run_id: "run", version_id: "version", revision_id: "plan_revision" },
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
  }),
  table("finding", OF_SEQUENCE, { parents: { sequence_id: "sequence" } }),
  table("proof_file", OF_SEQUENCE, {
    key: ["run_id", "sequence_id", "frame"],
    parents: { run_id: "run", sequence_id: "sequence", attempt_id: "attempt" },
  }),
  table("checkpoint", OF_SEQUENCE, {
    key: ["sequence_id", "frame"],
    parents: { sequence_id: "sequence" },
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

/**
 * Columns that become part of a path on disk, by table: one name, a way down from a folder, or a place below a root as
 * JSON.
 */
export const MARKED_COLUMNS: Readonly<Record<string, Readonly<Record<string, "name" | "way" | "place">>>> = {
  node: { name: "name" },
  project: { slug: "name" },
  shot: { code: "name" },
  version: { named_project: "name", named_shot: "name" },
  sequence: { camera: "name", pass: "name", source: "place" },
  run: { handout: "way" },
  run_version: { scene_folder: "way" },
  frame_file: { name: "name" },
  proof_file: { path: "way" },
};

/** Tables that no record has: news for open pages, small pictures of frames in work, and what this house is. */
export const NOT_IN_RECORDS: readonly string[] = [
  "event",
  "frame_preview",
  "record_outbox",
  "record_file",
  "record_behind",
  "record_go",
  "schema_migration",
];
