/** @type {import("next").NextConfig} */
const config = {
  reactStrictMode: true,
  poweredByHeader: false,
  // Native or process-bound packages stay outside Next's bundle.
  serverExternalPackages: ["mysql2", "sharp", "pino"],
  // `npm run typecheck` does it, for tests and scripts as well.
  typescript: { ignoreBuildErrors: true },
  experimental: { optimizePackageImports: ["@chakra-ui/react"] },
};

export default config;
