import { checkTry } from "@/contract/settings-view";
import { startTry } from "@/server/actions/try-renderer";
import { readBody, respond } from "@/server/http/respond";

/** Body: node, project, scene, renderer, camera and frame. Answers a number to ask for the outcome with. */
export async function POST(request: Request): Promise<Response> {
  return respond(async () => startTry(await readBody(request, checkTry)));
}
