/** What is handed over of a project's edit. */
import { checkWish, wishOf } from "@/contract/handover";
import { createHandover } from "@/server/handover/create";
import { viewEditHandovers } from "@/server/handover/views";
import { readBody, respond, whoOf } from "@/server/http/respond";
import { requireProject } from "@/server/store/find-shot";

export const dynamic = "force-dynamic";

/** Answers HandoverViews, the newest first. */
export async function GET(
  _request: Request,
  { params }: { params: Promise<{ project: string }> },
): Promise<Response> {
  const { project } = await params;
  return respond(() => viewEditHandovers(project));
}

/** Body: a wish, for a movie, a moving page or a sheet. Answers its number and where it will be. */
export async function POST(
  request: Request,
  { params }: { params: Promise<{ project: string }> },
): Promise<Response> {
  const { project } = await params;
  return respond(async () =>
    createHandover({
      projectId: (await requireProject(project)).id,
      sequenceId: null,
      wish: wishOf(await readBody(request, checkWish)),
      who: whoOf(request),
      runId: null,
      outside: null,
    }),
  );
}
