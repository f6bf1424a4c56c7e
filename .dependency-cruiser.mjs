// Who may import whom: the rooms of docs/ARCHITECTURE.md. Types count: a circle of types is a circle of ideas.

/** What each room may import besides itself. A room is a folder below `src`. */
const ROOMS = {
  core: [],
  render: ["core", "contract"],
  contract: ["core"],
  server: ["core", "render", "contract"],
  ui: ["core", "contract"],
  app: ["ui", "server", "contract", "core", "demo"],
  cli: ["server", "core", "contract", "render", "demo"],
  demo: ["server", "render", "core", "contract"],
};

/** The rooms of the server, from the top down: each may import those that its line names. */
const SERVER_ROOMS = {
  housekeeping: ["folder", "files", "store", "db"],
  record: ["files", "store", "db"],
  backup: ["store", "db"],
  node: ["handover", "measuring", "engines", "scenes", "files", "folder", "queue", "store", "db"],
  measuring: ["files", "store", "db"],
  handover: ["views", "folder", "scenes", "files", "store", "db"],
  join: ["files", "store", "db"],
  cluster: ["queue", "files", "store", "db"],
  webhooks: ["queue", "store", "db"],
  access: ["files"],
  actions: [
    "access",
    "join",
    "cluster",
    "views",
    "record",
    "folder",
    "queue",
    "scenes",
    "files",
    "store",
    "db",
  ],
  http: ["access", "views", "folder", "queue", "scenes", "files", "store", "db"],
  views: ["record", "folder", "queue", "scenes", "files", "store", "db"],
  folder: ["scenes", "files", "store", "db"],
  queue: ["files", "store", "db"],
  engines: ["scenes", "files"],
  scenes: ["files"],
  files: [],
  store: ["db"],
  db: [],
};

/** The benches and views of the pages, above what they share. */
const UI_ROOMS = {
  "shot-page": [
    "band",
    "plan",
    "prove",
    "run",
    "check",
    "patch",
    "handover",
    "watched",
    "viewer",
    "shot",
    "live",
    "page",
    "fields",
    "theme",
  ],
  plan: ["shot", "live", "page", "fields", "theme"],
  prove: ["viewer", "picture", "shot", "live", "page", "fields", "theme"],
  run: ["shot", "live", "page", "fields", "theme"],
  check: ["picture", "shot", "live", "page", "fields", "theme"],
  handover: ["folders", "shot", "live", "page", "fields", "theme"],
  patch: ["picture", "run", "shot", "live", "page", "fields", "theme"],
  "project-patch": ["check", "live", "page", "fields", "theme"],
  watched: ["shot", "live", "page", "fields", "theme"],
  rebuild: ["live", "page", "theme"],
  "take-in": ["folders", "band", "shot", "live", "page", "fields", "theme"],
  "check-folder": ["band", "shot", "live", "page", "theme"],
  "edit-page": ["handover", "viewer", "band", "live", "page", "theme"],
  viewer: ["picture", "band", "check", "shot", "live", "page", "fields", "theme"],
  news: ["live", "page", "theme"],
  shots: ["news", "add-shots", "band", "shot", "live", "page", "fields", "theme"],
  projects: ["news", "add-shots", "live", "page", "theme"],
  "add-shots": ["live", "page", "theme"],
  access: ["live", "page", "fields", "theme"],
  interface: ["live", "page", "theme"],
  nodes: ["live", "page", "fields", "theme"],
  folders: ["live", "page", "fields", "theme"],
  help: ["band", "page", "theme"],
  band: ["live", "page", "theme"],
  shot: ["live", "page", "theme"],
  page: ["live", "theme"],
  picture: ["page", "theme"],
  fields: ["shot", "page", "theme"],
  live: [],
  theme: [],
};

const TEST = "\\.test\\.tsx?$";

/** One rule a room: no import of a room that its line does not name. */
const rulesOf = (parent, rooms, apart) =>
  Object.entries(rooms).map(([room, allowed]) => ({
    name: `${parent.replace("src/", "").replace("src", "rooms")}-${room}`,
    severity: "error",
    from: { path: `^${parent}/${room}/`, pathNot: [TEST] },
    to: {
      path: `^${parent}/[^/]+/`,
      pathNot: [room, ...allowed].map((name) => `^${parent}/${name}/`).concat(apart),
    },
  }));

/** @type {import("dependency-cruiser").IConfiguration} */
const config = {
  forbidden: [
    ...rulesOf("src", ROOMS, []),
    ...rulesOf("src/server", SERVER_ROOMS, []),
    ...rulesOf("src/ui", UI_ROOMS, []),
    {
      name: "no-circles",
      comment: "Also such that exist for types only.",
      severity: "error",
      from: {},
      to: { circular: true },
    },
    {
      name: "no-orphans",
      comment: "A file that nothing uses.",
      severity: "error",
      from: {
        orphan: true,
        path: "^src/",
        pathNot: [
          TEST,
          "^src/app/",
          "\\.d\\.ts$",
          "^src/core/image/wasm/",
          "^src/(proxy|instrumentation)\\.ts$",
        ],
      },
      to: {},
    },
    {
      name: "resolvable",
      severity: "error",
      from: { path: "^src/" },
      to: { couldNotResolve: true, path: "^(@/|\\.)" },
    },
  ],
  options: {
    tsPreCompilationDeps: true,
    tsConfig: { fileName: "tsconfig.json" },
    doNotFollow: { path: ["node_modules"] },
    includeOnly: "^src/",
    enhancedResolveOptions: { extensions: [".ts", ".tsx", ".mjs", ".js"] },
  },
};

export default config;
