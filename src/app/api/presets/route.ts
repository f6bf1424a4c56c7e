/** The team's presets: all of them, and one more. */
import { checkSavePreset } from "@/contract/bodies";
import { pool } from "@/server/db/pool";
import { readBody, respond, whoOf } from "@/server/http/respond";
import { listPresets } from "@/server/store/presets";
import { savePreset } from "@/server/actions/presets";

export const dynamic = "force-dynamic";

/** Answers the team's presets by name, without the shipped ones: those come with the page. */
export const GET = (): Promise<Response> => respond(async () => ({ presets: await listPresets(pool()) }));

/** Body: a name and the settings to keep under it. @throws `preset-name-taken` */
export async function POST(request: Request): Promise<Response> {
  return respond(async () => {
    const { name, settings } = await readBody(request, checkSavePreset);
    return savePreset(name, settings, whoOf(request));
  });
}
