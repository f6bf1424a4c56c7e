/** A preset file that somebody handed over, as a text. */
import { checkImportPreset } from "@/contract/bodies";
import { readBody, respond, whoOf } from "@/server/http/respond";
import { importPreset } from "@/server/actions/presets";

/** Body: the file's text. @throws `preset-broken`, with the line of each fault */
export async function POST(request: Request): Promise<Response> {
  return respond(async () => importPreset((await readBody(request, checkImportPreset)).text, whoOf(request)));
}
