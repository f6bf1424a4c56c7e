/** @type {import("next").NextConfig} */
const config = {
  reactStrictMode: true,
  poweredByHeader: false,
  // Native or process-bound packages stay outside Next's bundle.
  serverExternalPackages: ["mysql2", "sharp", "chokidar", "pino"],
  typescript: { ignoreBuildErrors: false },
  experimental: { optimizePackageImports: ["@chakra-ui/react"] },
};

export default config;
