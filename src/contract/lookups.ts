/** What can be looked at by HTTP, and what an address may say beside it. Texts alone. */

interface Lookup {
  readonly tells: string;
  /** Of the address, by name; all may be left out unless they say otherwise. */
  readonly query?: Readonly<Record<string, string>>;
  /** JSON, unless it is said. */
  readonly type?: string;
}

const FORM = {
  as: "`file`: to be kept; `pixels`: as the viewer takes them; else as a browser shows it",
  over: "with `as=pixels`: 1, 2, 4 or 8 pixels become one",
} as const;

/** By method and route, as folders of `src/app` spell it. */
export const LOOKUPS: Readonly<Record<string, Lookup>> = {
  "GET /api/audit": {
    tells: "What was asked for, by whom, and what came of it, the newest first",
    query: { before: "number of a line: older ones", as: "`csv`: all of it as a file" },
  },
  "GET /api/cluster": { tells: "The batch system that runs may be sent to, and what can be chosen of it" },
  "GET /api/events": { tells: "The stream of news, until one goes", type: "text/event-stream" },
  "GET /api/folders": {
    tells: "Folders below a root",
    query: { root: "its name", folder: "below it", find: "part of a name" },
  },
  "GET /api/handovers/[id]/file": {
    tells: "What was made, to be kept; of a folder of copies a ZIP",
    type: "*/*",
  },
  "GET /api/handovers/[id]/log": { tells: "What the encoder said" },
  "GET /api/handovers/[id]": { tells: "A handover, and how far it is" },
  "GET /api/health": { tells: "Whether the server answers at all" },
  "GET /api/me": { tells: "Who asks, and whether people have to sign in" },
  "GET /api/movie-presets": { tells: "Settings of movies under names of the house" },
  "GET /api/news": { tells: "What happened since then", query: { since: "ISO 8601; needed" } },
  "GET /api/nodes/invitations": { tells: "Machines that may come in over the network" },
  "GET /api/nodes": { tells: "Every node, what it does and what keeps it from taking frames" },
  "GET /api/openapi": { tells: "This description, as OpenAPI 3.1" },
  "GET /api/people": { tells: "Who may sign in" },
  "GET /api/presets": { tells: "Presets of the team, without those that ship" },
  "GET /api/projects/[project]/codes": { tells: "Codes of all shots" },
  "GET /api/projects/[project]/edits": { tells: "The newest edit that was read, as it is played" },
  "GET /api/projects/[project]/files": { tells: "Scenes and what they use, of a project's folder" },
  "GET /api/projects/[project]/handovers": { tells: "Handovers of the edit, the newest first" },
  "GET /api/projects/[project]/scene-facts": {
    tells: "What a scene says of itself",
    query: { scene: "its path in the project; needed", renderer: "another than the stand-in" },
  },
  "GET /api/projects/[project]/shots/[code]/motion": {
    tells: "How a camera moves",
    query: { scene: "its path", camera: "its name", first: "frame", last: "frame" },
  },
  "GET /api/projects/[project]/shots/[code]/patch": { tells: "What is to be patched of a shot" },
  "GET /api/projects/[project]/shots/[code]/revisions": {
    tells: "All revisions of a version's plan, the newest first",
    query: { version: "its id; needed" },
  },
  "GET /api/projects/[project]/shots/[code]": {
    tells: "A shot with the plan of one of its versions",
    query: { version: "such as v001", camera: "of the plan", pass: "of the plan" },
  },
  "GET /api/projects/[project]/shots/[code]/scene": {
    tells: "Cameras, time line and motion of a scene",
    query: { path: "below the project's folder; needed" },
  },
  "GET /api/projects/[project]/shots/[code]/sound": {
    tells: "The sound of a shot",
    type: "application/octet-stream",
  },
  "GET /api/projects/[project]/shots/[code]/thumbnail": {
    tells: "A small picture of a camera at a time",
    query: {
      scene: "its path; needed",
      camera: "its name",
      time: "frames of the scene",
      move: "of the camera, as JSON",
      v: "content of the scene that the page knows",
    },
    type: "image/png",
  },
  "GET /api/projects/[project]/shots": {
    tells: "The ledger of a project",
    query: { only: "codes with commas: only these lines" },
  },
  "GET /api/projects": { tells: "All projects, and the roots that they may lie in" },
  "GET /api/rebuild": { tells: "Tallies that lie on disk and are not in the database" },
  "GET /api/runs/[id]/hand-out": { tells: "The share of each machine, and what came back" },
  "GET /api/runs/[id]/log": {
    tells: "The newest lines of a run",
    query: { node: "only of this one", search: "only those that hold it" },
  },
  "GET /api/runs/[id]/pace": { tells: "How fast a run goes, and when it is likely to end" },
  "GET /api/runs/[id]/summary": { tells: "What a run made, kept and set aside" },
  "GET /api/runs": { tells: "What goes, waits and is held, over all shots" },
  "GET /api/sequences/[id]/aside": { tells: "Replaced files that are kept" },
  "GET /api/sequences/[id]/circumstances": { tells: "How files came to be" },
  "GET /api/sequences/[id]/frames/[frame]/before": {
    tells: "The picture that a frame's present one replaced",
    query: { file: "its name, as `change` tells it", ...FORM },
    type: "image/*",
  },
  "GET /api/sequences/[id]/frames/[frame]/change": {
    tells: "What the present file of a frame has that the one before had not",
  },
  "GET /api/sequences/[id]/frames/[frame]/history": { tells: "All that happened to a frame" },
  "GET /api/sequences/[id]/frames/[frame]/log": {
    tells: "The newest lines of all attempts at a frame",
    query: { search: "only those that hold it" },
  },
  "GET /api/sequences/[id]/frames/[frame]": {
    tells: "The picture of a frame",
    query: { c: "first digits of its content: it may be kept for ever then", ...FORM },
    type: "image/*",
  },
  "GET /api/sequences/[id]/frames/[frame]/so-far": {
    tells: "What there is so far of a frame in work",
    type: "image/jpeg",
  },
  "GET /api/sequences/[id]/handovers": { tells: "Handovers of a sequence, the newest first" },
  "GET /api/sequences/[id]/measures": { tells: "What was measured of the pictures, by column" },
  "GET /api/sequences/[id]/odd": { tells: "Frames that are odd among their neighbours" },
  "GET /api/sequences/[id]/proofs/[run]/[frame]": {
    tells: "The picture of a proof",
    query: { c: "first digits of its content" },
    type: "image/*",
  },
  "GET /api/sequences/[id]/proofs": { tells: "Proofs, and what the estimate is made from" },
  "GET /api/sequences/[id]": { tells: "The tally of a sequence, by column" },
  "GET /api/settings/nodes": { tells: "What every node sees of roots and renderers" },
  "GET /api/settings": { tells: "Settings in force, each with where it comes from" },
  "GET /api/settings/tries/[id]": { tells: "What a tried renderer made and said" },
};
