/** A version that nothing was made of is taken out again. */
import { idOf, respond } from "@/server/http/respond";
import { removeVersion } from "@/server/actions/next-version";

/** @throws TallyError `version-in-use` where something was made of it */
export async function DELETE(
  _request: Request,
  { params }: { params: Promise<{ id: string }> },
): Promise<Response> {
  const { id } = await params;
  return respond(() => removeVersion(idOf(id)));
}
