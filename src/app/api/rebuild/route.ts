/** Bringing the tally back from what lies beside the frames, when the database is lost. */
import type { RebuildMessage } from "@/contract/rebuild";
import { checkPointedFolder } from "@/contract/take-in";
import { rebuildBelow } from "@/server/actions/rebuild";
import { pointedPlace } from "@/server/folder/place-below-root";
import { readBody, respond } from "@/server/http/respond";
import { respondLines } from "@/server/http/respond-lines";
import { viewLostTallies } from "@/server/views/lost-tallies";

export const dynamic = "force-dynamic";

/** Answers a LostTalliesView. */
export const GET = (): Promise<Response> => respond(viewLostTallies);

/** Body: a PointedFolder. Answers RebuildMessages, a line each; whoever ends the request ends the work. */
export async function POST(request: Request): Promise<Response> {
  return respond(async () => {
    const place = await pointedPlace(await readBody(request, checkPointedFolder));
    return respondLines<RebuildMessage>(
      request,
      "The tally cannot be brought back now.",
      async ({ signal, say, sayOften }) => {
        const rebuilt = await rebuildBelow(place, {
          signal,
          onStep: (step) => sayOften({ type: "so-far", ...step }),
        });
        say({ type: "rebuilt", rebuilt });
      },
    );
  });
}
