import { checkStartProofs } from "@/contract/bodies";
import { idOf, readBody, respond } from "@/server/http/respond";
import { startProofs } from "@/server/actions/proofs";
import { viewProofs } from "@/server/views/proofs";

export const dynamic = "force-dynamic";

export async function GET(
  _request: Request,
  { params }: { params: Promise<{ id: string }> },
): Promise<Response> {
  const { id } = await params;
  return respond(() => viewProofs(idOf(id)));
}

export async function POST(
  request: Request,
  { params }: { params: Promise<{ id: string }> },
): Promise<Response> {
  const { id } = await params;
  return respond(async () => startProofs(idOf(id), await readBody(request, checkStartProofs)));
}
