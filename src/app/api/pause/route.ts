/** The pause of the whole house. */
import { checkPause } from "@/contract/node-settings";
import { readBody, respond, whoOf } from "@/server/http/respond";
import { pauseAll } from "@/server/actions/nodes";

/** Pauses every node, also those that come later, or lets them go on. */
export async function POST(request: Request): Promise<Response> {
  return respond(async () => pauseAll((await readBody(request, checkPause)).pause, whoOf(request)));
}
