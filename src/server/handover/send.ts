/** A handover's file on its way to a browser; of a folder of copies a ZIP, packed as it goes. */
import fs from "node:fs/promises";
import path from "node:path";
import type { Readable } from "node:stream";
import { ZipFile } from "yazl";
import { pool } from "../db/pool";
import { TallyError } from "../errors";
import { insideFolder } from "../files/paths";
import { sendStream } from "../files/send-stream";
import { handoverById } from "../store/handovers";
import { placeOfHandover } from "./place";

const headersOf = (name: string, bytes: number | null): Record<string, string> => ({
  // No type: nothing of it may run in a page of ours, whatever it is.
  "content-type": "application/octet-stream",
  "content-disposition": `attachment; filename*=UTF-8''${encodeURIComponent(name)}`,
  "cache-control": "no-store",
  "x-content-type-options": "nosniff",
  ...(bytes === null ? {} : { "content-length": String(bytes) }),
});

/** Pictures are packed already. */
const asTheyAre = { compress: false } as const;

/** @throws TallyError `handover-unknown` where it has no file here */
export async function sendHandover(id: number): Promise<Response> {
  const row = await handoverById(pool(), id);
  if (row?.state !== "done" || row.name === null) throw new TallyError("handover-unknown");
  const named = await placeOfHandover(row);
  // Nor does a link in that folder.
  const place = await insideFolder(path.dirname(named), path.basename(named));
  const stat = await fs.stat(place).catch(() => null);
  if (stat === null) throw new TallyError("picture-gone", { what: row.name });
  if (!stat.isDirectory()) {
    return sendStream(async () => (await fs.open(place)).createReadStream(), headersOf(row.name, stat.size));
  }
  return sendStream(
    async () => {
      const zip = new ZipFile();
      for (const name of (await fs.readdir(place)).sort())
        zip.addFile(path.join(place, name), `${row.name}/${name}`, asTheyAre);
      zip.end();
      return zip.outputStream as Readable;
    },
    headersOf(`${row.name}.zip`, null),
  );
}
