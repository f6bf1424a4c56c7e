/** A look at a folder that something else has filled: long ones are told while they go on. */
import { checkPointedFolder, type LookMessage } from "@/contract/take-in";
import { lookAtFolder } from "@/server/folder/found-folder";
import { pointedPlace } from "@/server/folder/place-below-root";
import { readBody, respond } from "@/server/http/respond";
import { respondLines } from "@/server/http/respond-lines";
import { requireProject } from "@/server/store/find-shot";
import { viewFoundFolder } from "@/server/views/found-folder";

/** Body: a PointedFolder. Answers LookMessages, a line each; whoever ends the request ends the look. */
export async function POST(
  request: Request,
  { params }: { params: Promise<{ project: string }> },
): Promise<Response> {
  const { project } = await params;
  return respond(async () => {
    const place = await pointedPlace(await readBody(request, checkPointedFolder));
    const { rate } = await requireProject(project);
    return respondLines<LookMessage>(
      request,
      "The folder cannot be looked at now.",
      async ({ signal, say, sayOften }) => {
        const found = await lookAtFolder(place, {
          signal,
          onFolder: (soFar) => sayOften({ type: "so-far", ...soFar }),
        });
        say({ type: "found", found: await viewFoundFolder(found, rate) });
      },
    );
  });
}
