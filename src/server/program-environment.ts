/**
 * What programs that we call find in their environment: nothing of ours, the way to the database least of all.
 * Whoever calls one adds what it is to know.
 */
export function programEnvironment(more: Readonly<Record<string, string>> = {}): NodeJS.ProcessEnv {
  const others = Object.entries(process.env).filter(([name]) => !name.startsWith("PLAIN_TALLY_"));
  // The types of the pages' server want it named.
  return { ...Object.fromEntries(others), NODE_ENV: process.env.NODE_ENV, ...more };
}
