/** The start of a run. */
import { checkStartRun } from "@/contract/bodies";
import { wishOf } from "@/contract/handover";
import { startFollowed } from "@/server/handover/follow";
import { startRun } from "@/server/actions/start-run";
import { startInNextVersion } from "@/server/actions/next-version";
import { idOf, readBody, respond, whoOf } from "@/server/http/respond";

/**
 * Body: phrase and policy, and how it shall go. Decided under the lock of its versions: of two equal starts
 * at one moment the second finds nothing left to do, and says so. Answers the run, how many frames it
 * renders, and the version where it opened one.
 */
export async function POST(
  request: Request,
  { params }: { params: Promise<{ id: string }> },
): Promise<Response> {
  const { id } = await params;
  return respond(async () => {
    const { inNextVersion = false, then = [], ...wish } = await readBody(request, checkStartRun);
    const who = whoOf(request);
    const started = await startFollowed(
      inNextVersion ? startInNextVersion : startRun,
      { sequenceId: idOf(id), ...wish },
      then.map(wishOf),
      who,
    );
    const { runId, tasks: frames } = started;
    return "version" in started ? { runId, frames, version: started.version } : { runId, frames };
  });
}
