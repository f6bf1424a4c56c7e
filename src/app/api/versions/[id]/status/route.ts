import { checkDecideVersion } from "@/contract/bodies";
import { idOf, readBody, respond, whoOf } from "@/server/http/respond";
import { decideOnVersion } from "@/server/actions/decide-version";

/** Chooses a version, which retires the others of its purpose, or opens one again. */
export async function POST(
  request: Request,
  { params }: { params: Promise<{ id: string }> },
): Promise<Response> {
  const { id } = await params;
  return respond(async () =>
    decideOnVersion(idOf(id), (await readBody(request, checkDecideVersion)).decision, whoOf(request)),
  );
}
