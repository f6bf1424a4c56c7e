/** Frames that a person rejects, with the reason. */
import { checkClearFlag, checkFlag } from "@/contract/bodies";
import { idOf, readBody, respond, whoOf } from "@/server/http/respond";
import { clearFlags, flagFrames } from "@/server/actions/flags";

/**
 * Body: a phrase, the reason, and where in the pictures, if not all over them. Answers how many frames were flagged; they count as flagged until they are
 * made anew or the flag is taken back.
 */
export async function POST(
  request: Request,
  { params }: { params: Promise<{ id: string }> },
): Promise<Response> {
  const { id } = await params;
  return respond(async () => {
    const body = await readBody(request, checkFlag);
    const { phrase, reason, place } = body;
    return {
      flagged: await flagFrames(idOf(id), phrase, reason.trim(), whoOf(request), place ?? null),
    };
  });
}

/**
 * Body: a phrase. Answers how many flags were taken back. What a check found is not a person's flag and
 * stays.
 */
export async function DELETE(
  request: Request,
  { params }: { params: Promise<{ id: string }> },
): Promise<Response> {
  const { id } = await params;
  return respond(async () => ({
    cleared: await clearFlags(idOf(id), (await readBody(request, checkClearFlag)).phrase, whoOf(request)),
  }));
}
