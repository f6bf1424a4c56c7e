/**
 * Ends a program when the process that called it is gone, however that came about (util-linux, prctl PR_SET_PDEATHSIG).
 */
import fs from "node:fs";

const GUARD = ["/usr/bin/setpriv", "--pdeathsig", "KILL", "--"] as const;
const hasGuard = fs.existsSync(GUARD[0]);

/** The call as it is to be started: program, then arguments. */
export const guarded = (program: string, args: readonly string[]): readonly [string, ...string[]] =>
  hasGuard ? [...GUARD, program, ...args] : [program, ...args];
