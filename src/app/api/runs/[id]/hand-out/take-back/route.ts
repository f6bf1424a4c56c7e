import { checkTakeBack } from "@/contract/bodies";
import { idOf, readBody, respond } from "@/server/http/respond";
import { takeBackShare } from "@/server/actions/hand-out";

export async function POST(
  request: Request,
  { params }: { params: Promise<{ id: string }> },
): Promise<Response> {
  const { id } = await params;
  return respond(async () => takeBackShare(idOf(id), (await readBody(request, checkTakeBack)).machine));
}
