/** A backup of the database while everybody works: all tables as they are at one moment. */
import fs from "node:fs";
import { once } from "node:events";
import { finished } from "node:stream/promises";
import zlib from "node:zlib";
import { TallyError } from "../errors";
import { installation } from "../installation";
import { appliedFiles } from "../db/migrate";
import { connect } from "../db/connection";
import { pool } from "../db/pool";
import { headOf, RowSum, type Sums } from "./backup-lines";
import { beginSnapshot, rowsOf, tablesOf } from "./rows-of-tables";

/**
 * @param file is made; one that is there is never written over
 * @param now milliseconds since 1970
 * @throws TallyError `backup-exists`
 */
export async function backUp(
  file: string,
  now: number,
): Promise<{ readonly bytes: number; readonly sums: Sums }> {
  if (fs.existsSync(file)) throw new TallyError("backup-exists", { file });
  const temporary = `${file}.part${process.pid}`;
  const connection = await connect(pool());
  try {
    await beginSnapshot(connection);
    const schema = await appliedFiles(connection);
    const tables = await tablesOf(connection);
    const packed = zlib.createGzip();
    // Nobody but who made it: it holds names, paths and what people said.
    const out = packed.pipe(fs.createWriteStream(temporary, { flags: "wx", mode: 0o600 }));
    const over = finished(out);
    over.catch(() => undefined);
    out.on("error", (error) => packed.destroy(error));
    const line = async (value: unknown): Promise<void> => {
      if (!packed.write(`${JSON.stringify(value)}\n`)) await Promise.race([once(packed, "drain"), over]);
    };
    await line(headOf({ version: installation().version, at: new Date(now).toISOString(), schema, tables }));
    const sums: Record<string, ReturnType<RowSum["end"]>> = {};
    for (const [place, table] of tables.entries()) {
      const sum = new RowSum();
      for await (const row of rowsOf(connection, table)) await line([place, ...sum.add(row)]);
      sums[table.name] = sum.end();
    }
    await line({ end: sums });
    packed.end();
    await over;
    const handle = await fs.promises.open(temporary, "r+");
    await handle.sync().finally(() => handle.close());
    await fs.promises.link(temporary, file).catch((error: NodeJS.ErrnoException) => {
      throw error.code === "EEXIST" ? new TallyError("backup-exists", { file }) : error;
    });
    return { bytes: (await fs.promises.stat(file)).size, sums };
  } finally {
    fs.rmSync(temporary, { force: true });
    // Its session is set for this alone.
    connection.destroy();
  }
}
