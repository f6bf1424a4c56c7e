/** A copy of a shot: its plan under another code, without its frames. */
import { checkCopyShot } from "@/contract/project-bodies";
import { duplicateShot } from "@/server/actions/shots";
import { nameOf, readBody, respond, whoOf } from "@/server/http/respond";

/** Body: the code of the copy. */
export async function POST(
  request: Request,
  { params }: { params: Promise<{ project: string; code: string }> },
): Promise<Response> {
  const name = nameOf(await params);
  return respond(async () => {
    const { code } = await readBody(request, checkCopyShot);
    await duplicateShot(name, code, null, whoOf(request));
    return { code };
  });
}
