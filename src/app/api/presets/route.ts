/** The team's presets: all of them, and one more. */
import { checkSavePreset } from "@/contract/bodies";
import { pool } from "@/server/db/pool";
import { readBody, respond } from "@/server/http/respond";
import { listPresets } from "@/server/store/presets";
import { savePreset } from "@/server/actions/presets";

export const dynamic = "force-dynamic";

export const GET = (): Promise<Response> => respond(async () => ({ presets: await listPresets(pool()) }));

export async function POST(request: Request): Promise<Response> {
  return respond(async () => {
    const { name, settings } = await readBody(request, checkSavePreset);
    return savePreset(name, settings);
  });
}
