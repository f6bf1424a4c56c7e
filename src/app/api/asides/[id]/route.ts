import { idOf, respond, whoOf } from "@/server/http/respond";
import { letNodeIn } from "@/server/actions/nodes";

/** Lets a node in again that was set aside. */
export async function POST(
  request: Request,
  { params }: { params: Promise<{ id: string }> },
): Promise<Response> {
  const { id } = await params;
  return respond(async () => letNodeIn(idOf(id), whoOf(request)));
}
