/** What a scene tells of itself, before a shot is made of it. */
import { STAND_IN } from "@/core/plan/renderer";
import { respond } from "@/server/http/respond";
import { readSceneFacts } from "@/server/scenes/scene-facts";
import { requireProject } from "@/server/store/find-shot";

export const dynamic = "force-dynamic";

/** `?scene=scenes/a.json`, and `&renderer=` for another than the stand-in. Answers SceneFacts. */
export async function GET(
  request: Request,
  { params }: { params: Promise<{ project: string }> },
): Promise<Response> {
  const { project } = await params;
  const query = new URL(request.url).searchParams;
  return respond(async () =>
    readSceneFacts(
      await requireProject(project),
      query.get("scene") ?? "",
      query.get("renderer") ?? STAND_IN,
    ),
  );
}
