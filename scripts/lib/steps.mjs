// Telling a person what goes on, step by step, and running other programs.
import { spawn } from "node:child_process";

const began = Date.now();

/** @param {string} text */
export function step(text) {
  process.stdout.write(`[${((Date.now() - began) / 1000).toFixed(1).padStart(6)} s] ${text}\n`);
}

/** A reason to stop that a person can act on. */
export class Stop extends Error {}

/**
 * Runs a program to its end; its output shows only when it fails (or when `show` is set).
 * @param {string} command @param {string[]} args
 * @param {{ cwd?: string, env?: Record<string, string | undefined>, show?: boolean }} [options]
 * @returns {Promise<string>} what it printed
 */
export function run(command, args, options = {}) {
  return new Promise((resolve, reject) => {
    const child = spawn(command, args, {
      cwd: options.cwd,
      env: { ...process.env, ...options.env },
      stdio: ["ignore", "pipe", "pipe"],
    });
    let output = "";
    for (const stream of [child.stdout, child.stderr]) {
      stream.on("data", (data) => {
        output += data;
        if (options.show) process.stdout.write(data);
      });
    }
    child.on("error", (error) => reject(new Stop(`${command} cannot be started: ${error.message}`)));
    child.on("exit", (code) =>
      code === 0
        ? resolve(output)
        : reject(
            new Stop(
              `${command} ${args.join(" ")} ended with ${code}\n${options.show ? "" : output.slice(-6000)}`,
            ),
          ),
    );
  });
}
