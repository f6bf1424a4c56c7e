/** @type {import("next").NextConfig} */
const config = {
  reactStrictMode: true,
  poweredByHeader: false,
  // Native or process-bound packages stay outside Next's bundle.
  serverExternalPackages: ["mysql2", "sharp", "pino", "piscina", "three"],
  // `npm run typecheck` does it, for tests and scripts as well.
  typescript: { ignoreBuildErrors: true },
  experimental: {
    optimizePackageImports: ["@chakra-ui/react"],
    // What a body may have (contract/bounds.ts). Of a longer one than this Next hands on the beginning, as if it
    // were all: an edit list of 12 MB was broken JSON.
    proxyClientMaxBodySize: "64mb",
  },
};

export default config;
