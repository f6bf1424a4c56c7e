// Language and habits. Who may import whom, and circles, are .dependency-cruiser.mjs.
import next from "eslint-config-next";
import tseslint from "typescript-eslint";

/** The core computes: nothing of the machine, no library that reaches out. */
const machine = [
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
];
const pages = ["next", "next/*"];
const interfaceCode = ["react", "react-dom"];

/** A room may not use these packages. */
const without = (rooms, group, message) => ({
  files: rooms.map((room) => `src/${room}/**/*.{ts,tsx}`),
  ignores: ["**/*.test.{ts,tsx}"],
  rules: { "no-restricted-imports": ["error", { patterns: [{ group, message }] }] },
});

/** An UPDATE that sets a state, however it goes on after its WHERE. */
const writesState = String.raw`/UPDATE\s+(task|run)\b((?!WHERE)[\s\S])*\bstate\s*=/`;
const ONE_WRITER = "Only store/task-state.ts and store/run-state.ts write a state.";
const NO_SPREAD = "As many arguments as there are values fill the stack: core/many, or a loop.";
const ONE_BUILDER = "Only engines/frame-job.ts builds a FrameJob: call buildFrameJob.";

export default tseslint.config(
  {
    ignores: [
      "node_modules/**",
      ".next/**",
      "dist/**",
      "var/**",
      "next-env.d.ts",
      // AssemblyScript, which has types of its own.
      "src/core/image/wasm/**",
    ],
  },
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
      "react-hooks/set-state-in-effect": "off",
      "react-hooks/refs": "off",
      "react-hooks/immutability": "off",
    },
  },
  {
    files: ["src/**/*.{ts,tsx}"],
    ignores: [
      "src/server/store/task-state.ts",
      "src/server/store/run-state.ts",
      "src/server/engines/frame-job.ts",
      "**/*.test.{ts,tsx}",
    ],
    rules: {
      "no-restricted-syntax": [
        "error",
        { selector: `TemplateElement[value.raw=${writesState}]`, message: ONE_WRITER },
        { selector: `Literal[value=${writesState}]`, message: ONE_WRITER },
        { selector: "TSAsExpression > TSTypeReference[typeName.name='FrameJob']", message: ONE_BUILDER },
        {
          selector:
            "CallExpression[callee.object.name='Math'][callee.property.name=/^(min|max)$/] > SpreadElement",
          message: NO_SPREAD,
        },
        { selector: "CallExpression[callee.property.name='push'] > SpreadElement", message: NO_SPREAD },
        {
          selector: "TSSatisfiesExpression > TSTypeReference[typeName.name='FrameJob']",
          message: ONE_BUILDER,
        },
      ],
    },
  },
  without(
    ["core", "render"],
    [...machine, ...pages, ...interfaceCode],
    "This room computes: no machine, no pages.",
  ),
  without(["contract"], [...machine, ...pages], "What crosses a boundary knows no machine."),
  without(["ui"], machine, "Pages have no Node API."),
);
