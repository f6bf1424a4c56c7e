import { checkDecideVersion } from "@/contract/bodies";
import { idOf, readBody, respond, whoOf } from "@/server/http/respond";
import { decideOnVersion } from "@/server/actions/decide-version";

/** Chooses a version, which retires the others of its purpose, or opens one again. Body: which, and why. */
export async function POST(
  request: Request,
  { params }: { params: Promise<{ id: string }> },
): Promise<Response> {
  const { id } = await params;
  return respond(async () => {
    const { decision, why } = await readBody(request, checkDecideVersion);
    return decideOnVersion(idOf(id), decision, whoOf(request), why?.trim() ?? null);
  });
}
