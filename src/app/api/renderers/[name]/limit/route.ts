/** How many frames of a renderer may be in work at once. */
import { checkRendererLimit } from "@/contract/settings-view";
import { limitRenderer } from "@/server/actions/nodes";
import { readBody, respond, whoOf } from "@/server/http/respond";

export async function POST(
  request: Request,
  { params }: { params: Promise<{ name: string }> },
): Promise<Response> {
  const { name } = await params;
  return respond(async () =>
    limitRenderer(name, (await readBody(request, checkRendererLimit)).atOnce, whoOf(request)),
  );
}
