/** What would come of a handover of a project's edit. */
import { checkWish, wishOf } from "@/contract/handover";
import { outlookOf } from "@/server/handover/outlook";
import { readBody, respond } from "@/server/http/respond";
import { requireProject } from "@/server/store/find-shot";

/** Body: a wish. Answers a HandoverOutlook; nothing is made. */
export async function POST(
  request: Request,
  { params }: { params: Promise<{ project: string }> },
): Promise<Response> {
  const { project } = await params;
  return respond(async () =>
    outlookOf(
      { projectId: (await requireProject(project)).id, sequenceId: null },
      wishOf(await readBody(request, checkWish)),
    ),
  );
}
