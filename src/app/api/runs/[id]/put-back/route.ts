import { checkPutBack } from "@/contract/bodies";
import { idOf, readBody, respond } from "@/server/http/respond";
import { putBack } from "@/server/actions/nodes";

export async function POST(
  request: Request,
  { params }: { params: Promise<{ id: string }> },
): Promise<Response> {
  const { id } = await params;
  return respond(async () => {
    const { leadId, frame } = await readBody(request, checkPutBack);
    await putBack(idOf(id), leadId, frame);
  });
}
