/** Packages that ship as ES modules only, or load some of themselves as such; Jest runs CommonJS, so they are transformed. */
const esmOnly = ["@noble/hashes", "p-limit", "yocto-queue", "lerc", "three"];

/** @type {import("jest").Config} */
const shared = {
  transform: {
    "^.+\\.(t|j|mj)sx?$": [
      "@swc/jest",
      {
        jsc: {
          target: "es2022",
          parser: { syntax: "typescript", tsx: true },
          transform: { react: { runtime: "automatic" } },
        },
      },
    ],
  },
  transformIgnorePatterns: [`/node_modules/(?!(${esmOnly.join("|")})/)`],
  moduleNameMapper: {
    "^@/(.*)$": "<rootDir>/src/$1",
    // Its loaders and its core as one and the same module.
    "^three$": "<rootDir>/node_modules/three/build/three.module.js",
  },
  modulePathIgnorePatterns: ["<rootDir>/(var|dist|.next)/"],
  testEnvironment: "node",
  moduleFileExtensions: ["ts", "tsx", "js", "mjs", "json"],
};

/** @type {import("jest").Config} */
const config = {
  projects: [
    {
      ...shared,
      displayName: "unit",
      testMatch: ["<rootDir>/src/**/*.test.ts"],
    },
    {
      ...shared,
      displayName: "component",
      testEnvironment: "jsdom",
      setupFiles: ["<rootDir>/tests/support/jsdom.ts"],
      testMatch: ["<rootDir>/src/**/*.test.tsx"],
    },
    {
      ...shared,
      displayName: "integration",
      testMatch: ["integration", "faults", "cluster"].map((suite) => `<rootDir>/tests/${suite}/**/*.test.ts`),
    },
  ],
  // Far above what any test takes alone: a busy machine must not fail it.
  testTimeout: 1_200_000,
};

export default config;
