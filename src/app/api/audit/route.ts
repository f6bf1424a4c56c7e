/** What was asked for, by whom, and what came of it. */
import { Readable } from "node:stream";
import { sendStream } from "@/server/files/send-stream";
import { auditCsv, viewAudit } from "@/server/views/audit";
import { idOf, respond } from "@/server/http/respond";

/** Query: `before`, the number of a line: older ones. `as=csv` answers all of them as a file. Else an AuditView. */
export async function GET(request: Request): Promise<Response> {
  return respond(async () => {
    const query = new URL(request.url).searchParams;
    if (query.get("as") === "csv")
      return sendStream(() => Promise.resolve(Readable.from(auditCsv())), {
        "content-type": "text/csv; charset=utf-8",
        "content-disposition": 'attachment; filename="plain-tally-audit.csv"',
        "cache-control": "no-store",
      });
    const before = query.get("before");
    return viewAudit(before === null ? null : idOf(before));
  });
}
