/** What is to be rendered again of a shot. */
import { nameOf, respond } from "@/server/http/respond";
import { viewPatch } from "@/server/views/patch";

export const dynamic = "force-dynamic";

/** Answers a PatchView of the version that stands for the shot. */
export async function GET(
  _: Request,
  { params }: { params: Promise<{ project: string; code: string }> },
): Promise<Response> {
  const name = nameOf(await params);
  return respond(() => viewPatch(name));
}
