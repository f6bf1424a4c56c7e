/** `plain-tally backup` and `restore`: the database in one file, and back. */
import path from "node:path";
import { backUp } from "@/server/backup/back-up";
import { readBackup, type Sums } from "@/server/backup/backup-lines";
import { restore } from "@/server/backup/restore";
import { home } from "@/server/configuration";
import { pool } from "@/server/db/pool";
import { installation } from "@/server/installation";
import { AWAY_SECONDS } from "@/server/queue/takers";
import { noteInstalled } from "@/server/store/installed";
import { EXIT, type ExitCode, print, printJson } from "./command";

const rowsIn = (sums: Sums): number => Object.values(sums).reduce((sum, { rows }) => sum + rows, 0);
const countsOf = (sums: Sums): Record<string, number> =>
  Object.fromEntries(Object.entries(sums).map(([name, { rows }]) => [name, rows]));

export async function backupCommand(file: string, { json }: { readonly json?: boolean }): Promise<ExitCode> {
  const { bytes, sums } = await backUp(path.resolve(file), Date.now());
  if (json) printJson({ file: path.resolve(file), bytes, rows: countsOf(sums) });
  else
    print(
      `${rowsIn(sums)} rows of ${Object.keys(sums).length} tables, ${bytes} bytes: ${path.resolve(file)}`,
    );
  return EXIT.fine;
}

export async function restoreCommand(
  file: string,
  { replace, check, json }: { readonly replace?: boolean; readonly check?: boolean; readonly json?: boolean },
): Promise<ExitCode> {
  const place = path.resolve(file);
  if (check === true) {
    const { head, sums } = await readBackup(place);
    if (json) printJson({ at: head.at, version: head.version, rows: countsOf(sums) });
    else print(`Whole: ${rowsIn(sums)} rows of ${head.at}, made by Plain Tally ${head.version}.`);
    return EXIT.fine;
  }
  const { at, sums, applied } = await restore(place, path.join(home(), "db"), replace === true, AWAY_SECONDS);
  await noteInstalled(pool(), installation().version);
  if (json) printJson({ at, rows: countsOf(sums), applied });
  else {
    print(`Back as of ${at}: ${rowsIn(sums)} rows, compared with the backup one by one.`);
    if (applied.length > 0) print(`Brought up to date: ${applied.join(", ")}.`);
  }
  return EXIT.fine;
}
