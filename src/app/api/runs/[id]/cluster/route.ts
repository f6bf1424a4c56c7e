/** A run is sent to the batch system, or taken back from it. */
import { checkSendRun } from "@/contract/cluster";
import { idOf, readBody, respond, whoOf } from "@/server/http/respond";
import { sendRun, takeRunBack } from "@/server/actions/send-run";

/**
 * Body: which frames, where and within which limits; what is left out goes as the batch system has it. Answers when it has taken
 * the arrays. @throws `cluster-refused` with its own words
 */
export async function POST(
  request: Request,
  { params }: { params: Promise<{ id: string }> },
): Promise<Response> {
  const { id } = await params;
  return respond(async () => sendRun(idOf(id), await readBody(request, checkSendRun), whoOf(request)));
}

/** What is in work is saved and given back; its frames go to whoever takes them. @throws `run-not-sent` */
export async function DELETE(
  request: Request,
  { params }: { params: Promise<{ id: string }> },
): Promise<Response> {
  const { id } = await params;
  return respond(async () => takeRunBack(idOf(id), whoOf(request)));
}
