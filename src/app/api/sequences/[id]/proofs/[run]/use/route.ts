import { idOf, respond } from "@/server/http/respond";
import { placeProofs } from "@/server/actions/proofs";

export async function POST(
  _request: Request,
  { params }: { params: Promise<{ id: string; run: string }> },
): Promise<Response> {
  const { id, run } = await params;
  return respond(() => placeProofs(idOf(id), idOf(run)));
}
