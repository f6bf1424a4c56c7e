/** What a version's plan was before. */
import { idOf, nameOf, respond } from "@/server/http/respond";
import { viewRevisions } from "@/server/views/shot";

export const dynamic = "force-dynamic";

/** Query: version, an id. Answers all of its revisions, newest first. @throws `version-unknown` */
export async function GET(
  request: Request,
  { params }: { params: Promise<{ project: string; code: string }> },
): Promise<Response> {
  const name = nameOf(await params);
  return respond(async () => ({
    revisions: await viewRevisions(name, idOf(new URL(request.url).searchParams.get("version") ?? "")),
  }));
}
