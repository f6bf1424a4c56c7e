import { checkClearFlag, checkFlag } from "@/contract/bodies";
import { idOf, readBody, respond } from "@/server/http/respond";
import { clearFlags, flagFrames } from "@/server/actions/flags";

export async function POST(
  request: Request,
  { params }: { params: Promise<{ id: string }> },
): Promise<Response> {
  const { id } = await params;
  return respond(async () => {
    const body = await readBody(request, checkFlag);
    return { flagged: await flagFrames(idOf(id), body.phrase, body.reason.trim()) };
  });
}

export async function DELETE(
  request: Request,
  { params }: { params: Promise<{ id: string }> },
): Promise<Response> {
  const { id } = await params;
  return respond(async () => ({
    cleared: await clearFlags(idOf(id), (await readBody(request, checkClearFlag)).phrase),
  }));
}
