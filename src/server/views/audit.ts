/** The audit as a page shows it, and as a file. */
import type { AuditLine, AuditView } from "@/contract/people";
import { OPERATIONS } from "@/contract/operations";
import { pool } from "../db/pool";
import { auditLines } from "../store/audit";

const LINES_A_PAGE = 200;
/** Read at once for the file, which may have any number. */
const LINES_A_PART = 2_000;

export async function viewAudit(before: number | null): Promise<AuditView> {
  const lines = await auditLines(pool(), LINES_A_PAGE + 1, before);
  return { lines: lines.slice(0, LINES_A_PAGE), hasMore: lines.length > LINES_A_PAGE };
}

/**
 * A cell (RFC 4180). What a table program would take for a formula is made a text: names and addresses come from outside.
 */
const cell = (value: string | number | null): string => {
  const text = String(value ?? "");
  const kept = /^[=+\-@\t\r]/.test(text) ? `'${text}` : text;
  return /[",\r\n]/.test(kept) ? `"${kept.replaceAll('"', '""')}"` : kept;
};

export const auditRow = ({ at, who, role, did, what, status }: AuditLine): string =>
  `${[new Date(at).toISOString(), who, role, OPERATIONS[did]?.did ?? did, what, status].map(cell).join(",")}\r\n`;

/** One line for a person. */
export const auditText = ({ at, who, did, what, status }: AuditLine): string =>
  `${new Date(at).toISOString().slice(0, 19).replace("T", " ")}  ${who ?? "nobody said"}  ${OPERATIONS[did]?.did ?? did}  ${what}  ${status ?? "no answer"}`;

/** All of it, the newest first, as it is read: a year of it need not be held at once. */
export async function* auditCsv(): AsyncGenerator<string> {
  yield "at,who,role,did,what,status\r\n";
  for (let before: number | null = null; ;) {
    const lines: readonly AuditLine[] = await auditLines(pool(), LINES_A_PART, before);
    const last = lines.at(-1);
    if (last === undefined) return;
    yield lines.map(auditRow).join("");
    before = last.id;
  }
}
