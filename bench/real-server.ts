/** The built server, for benchmarks of pages. */
import { type ChildProcess, spawn } from "node:child_process";
import { closePool } from "@/server/db/pool";
import { until } from "./real-run";

/** Benchmarks run one after the other. */
const PORT = 4399;

export interface RealServer {
  readonly address: string;
  readonly process: ChildProcess;
}

/** For as long as `work` takes; the database's connections are closed after it. */
export async function withServer<T>(home: string, work: (server: RealServer) => Promise<T>): Promise<T> {
  const server = spawn(
    process.execPath,
    ["node_modules/next/dist/bin/next", "start", "-H", "127.0.0.1", "-p", String(PORT)],
    { cwd: home, env: { ...process.env, NODE_ENV: "production" }, stdio: "ignore" },
  );
  const address = `http://127.0.0.1:${PORT}`;
  try {
    await until(
      "the server answers",
      async () => (await fetch(`${address}/api/health`).catch(() => null))?.ok === true,
    );
    return await work({ address, process: server });
  } finally {
    server.kill("SIGTERM");
    await closePool();
  }
}
