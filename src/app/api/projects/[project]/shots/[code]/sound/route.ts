/** The sound of a shot, as its file is. */
import { nameOf, respond } from "@/server/http/respond";
import { soundOfShot } from "@/server/http/sound";

export const dynamic = "force-dynamic";

/** Answers the file. @throws `sound-missing` where the shot has none, or its file is away */
export async function GET(
  _request: Request,
  { params }: { params: Promise<{ project: string; code: string }> },
): Promise<Response> {
  const name = nameOf(await params);
  return respond(() => soundOfShot(name));
}
