import { formatPhrase } from "@/core/frames/phrase";
import { idOf, respond } from "@/server/http/respond";
import { checkJobs } from "@/server/folder/check-jobs";
import { checkSequence } from "@/server/folder/check";
import { requireSequence } from "@/server/store/shots";

/** Checks every file; answers when the check is over, with what the folder had to tell. */
export async function POST(
  _request: Request,
  { params }: { params: Promise<{ id: string }> },
): Promise<Response> {
  const { id } = await params;
  return respond(async () => {
    const noticed = await checkSequence(await requireSequence(idOf(id)));
    return {
      appeared: formatPhrase(noticed.appeared),
      changed: formatPhrase(noticed.changed),
      gone: formatPhrase(noticed.gone),
    };
  });
}

/** Cancels a check that goes on. */
export async function DELETE(
  _request: Request,
  { params }: { params: Promise<{ id: string }> },
): Promise<Response> {
  const { id } = await params;
  return respond(async () => void checkJobs().get(idOf(id))?.cancel.abort());
}
