/**
 * What the account of a node may do, table by table: what a node does, and nothing else. It renders, makes handovers, measures,
 * keeps house and writes the records; it makes no projects, plans or people, changes no tables, and sees no keys.
 * A test works through a node's night with such an account, and another holds that no table is forgotten.
 */

/** Rights beyond reading, as GRANT names them. */
type Right = "INSERT" | "UPDATE" | "DELETE";

const ADDS = ["INSERT"] as const;
const CHANGES = ["UPDATE"] as const;
const KEEPS = ["INSERT", "UPDATE", "DELETE"] as const;

export const NODE_RIGHTS: Readonly<Record<string, readonly Right[]>> = {
  // What people make and decide.
  project: CHANGES,
  shot: [],
  edit: [],
  edit_use: [],
  preset: [],
  movie_preset: [],
  plan_revision: [],
  version: CHANGES,
  sequence: CHANGES,
  deed: ADDS,
  run_share: CHANGES,
  // What becomes of it.
  run: CHANGES,
  run_version: KEEPS,
  task: KEEPS,
  attempt: KEEPS,
  attempt_line: KEEPS,
  checkpoint: KEEPS,
  finding: KEEPS,
  frame_file: KEEPS,
  frame_measure: KEEPS,
  frame_preview: KEEPS,
  measure_task: KEEPS,
  proof_file: KEEPS,
  handover: KEEPS,
  // Of nodes, and of the house.
  node: ["INSERT", "UPDATE"],
  node_aside: KEEPS,
  node_request: ["UPDATE", "DELETE"],
  node_invitation: [],
  webhook: [],
  webhook_call: ADDS,
  dispatch: [],
  array_job: [],
  setting: ["INSERT", "UPDATE"],
  installed: [],
  schema_migration: [],
  event: KEEPS,
  record_behind: KEEPS,
  record_file: KEEPS,
  record_go: KEEPS,
  record_outbox: ["INSERT", "DELETE"],
};

/** Tables that no node sees. */
export const CLOSED_TO_NODES: readonly string[] = ["person", "session", "audit"];
