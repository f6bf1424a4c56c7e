// The layer rule of docs/CONTRIBUTING (who may import whom) is enforced here, room by room.
import next from "eslint-config-next";
import tseslint from "typescript-eslint";

const rooms = ["core", "render", "contract", "server", "ui", "app", "cli", "demo"];
/** What each room may import besides itself. */
const allowed = {
  core: [],
  render: ["core", "contract"],
  contract: ["core"],
  server: ["core", "render", "contract"],
  ui: ["core", "contract"],
  app: ["ui", "server", "contract", "core"],
  cli: ["server", "core", "contract", "render", "demo"],
  demo: ["server", "render", "core", "contract"],
};
/** The core computes: nothing of the machine, no library that reaches out. */
const nodeOnly = [
  "node:*",
  "fs",
  "path",
  "child_process",
  "crypto",
  "zlib",
  "os",
  "mysql2",
  "mysql2/*",
  "sharp",
  "chokidar",
  "next",
  "next/*",
];

const layer = (room) => ({
  files: [`src/${room}/**/*.{ts,tsx}`],
  ignores: ["**/*.test.{ts,tsx}"],
  rules: {
    "no-restricted-imports": [
      "error",
      {
        patterns: [
          ...rooms
            .filter((r) => r !== room && !allowed[room].includes(r))
            .map((r) => ({
              group: [`@/${r}/*`, `@/${r}`],
              message: `src/${room} may not import src/${r}.`,
            })),
          { group: ["../../*/../*"], message: "Cross rooms with @/." },
          ...(["core", "render", "contract", "ui"].includes(room)
            ? [
                {
                  group: nodeOnly.filter((n) => room !== "ui" || !n.startsWith("next")),
                  message: `src/${room} has no Node API.`,
                },
              ]
            : []),
          ...(["core", "render"].includes(room)
            ? [{ group: ["react", "react-dom"], message: "No interface code here." }]
            : []),
        ],
      },
    ],
  },
});

export default tseslint.config(
  { ignores: ["node_modules/**", ".next/**", "dist/**", "var/**", "next-env.d.ts"] },
  ...next,
  {
    files: ["**/*.{ts,tsx}"],
    extends: [tseslint.configs.recommended],
    languageOptions: { parserOptions: { projectService: true, tsconfigRootDir: import.meta.dirname } },
    rules: {
      "@typescript-eslint/no-floating-promises": "error",
      "@typescript-eslint/no-misused-promises": ["error", { checksVoidReturn: { attributes: false } }],
      "@typescript-eslint/no-explicit-any": "error",
      "@typescript-eslint/no-unused-vars": ["error", { argsIgnorePattern: "^_", varsIgnorePattern: "^_" }],
      "@next/next/no-img-element": "off",
    },
  },
  {
    files: ["src/core/**/*.ts", "src/render/**/*.ts"],
    ignores: ["**/*.test.ts"],
    rules: {
      "no-restricted-globals": ["error", "process", "fetch", "performance", "setTimeout", "setInterval"],
      "no-restricted-properties": [
        "error",
        { object: "Date", property: "now", message: "The core has no clock: pass now." },
        { object: "Math", property: "random", message: "The core has no chance: pass a seed." },
      ],
    },
  },
  {
    rules: {
      "import/no-cycle": "error",
      "react-hooks/set-state-in-effect": "off",
      "react-hooks/refs": "off",
      "react-hooks/immutability": "off",
    },
  },
  ...rooms.map(layer),
);
