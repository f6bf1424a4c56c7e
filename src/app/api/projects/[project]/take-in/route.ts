/** Taking in a folder that something else fills. */
import { checkTakeInBody, type TakenInView } from "@/contract/take-in";
import { versionName } from "@/core/plan/plan";
import { takeIn } from "@/server/actions/take-in";
import { pool } from "@/server/db/pool";
import { lookAtFolder } from "@/server/folder/found-folder";
import { notice } from "@/server/folder/notice";
import { pointedPlace } from "@/server/folder/place-below-root";
import { readBody, respond, whoOf } from "@/server/http/respond";
import { sequencesOfVersion } from "@/server/store/shots";

/** Body: a TakeInBody. Answers a TakenInView; the files are looked at by the watch. */
export async function POST(
  request: Request,
  { params }: { params: Promise<{ project: string }> },
): Promise<Response> {
  const { project } = await params;
  return respond(async () => {
    const { root, folder, isDry, ...wish } = await readBody(request, checkTakeInBody);
    const found = await lookAtFolder(await pointedPlace({ root, folder }), { signal: request.signal });
    const { shot, version, versionId, did } = await takeIn(project, found, wish, {
      isDry,
      who: whoOf(request),
    });
    if (!isDry) for (const sequence of await sequencesOfVersion(pool(), versionId)) await notice(sequence);
    return { shot, version: versionName(version), did } satisfies TakenInView;
  });
}
