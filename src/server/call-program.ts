/** Calls of the programs that the configuration file names for what has happened. */
import { spawn } from "node:child_process";
import type { CALL_NAMES, CallMoment } from "@/contract/configuration";
import { fillTemplate } from "@/core/plan/call-template";
import { settings } from "./configuration";
import { programEnvironment } from "./program-environment";

/**
 * Begins the program and does not wait for it: it is somebody's message or light switch, and what it comes to changes
 * nothing. Nothing is called where none is declared.
 */
export function callProgram<M extends CallMoment>(
  moment: M,
  values: Readonly<Record<(typeof CALL_NAMES)[M][number], string | number>>,
): void {
  const call = settings().programCalls[moment];
  if (call === null) return;
  const child = spawn(call.program, fillTemplate(call.arguments, values), {
    stdio: "ignore",
    detached: true,
    env: programEnvironment(),
  });
  // That it is missing must not end the server.
  child.on("error", () => undefined);
  child.unref();
}
