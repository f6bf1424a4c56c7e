/**
 * What the page must know of a scene file before it can offer it: its cameras, and the hash of its content.
 */
import { nameOf, respond } from "@/server/http/respond";
import { viewScene } from "@/server/views/shot";

export const dynamic = "force-dynamic";

/**
 * Query: path, relative to the project's folder. Answers a SceneView; a file that cannot be read is told as
 * the fault that it is.
 */
export async function GET(
  request: Request,
  { params }: { params: Promise<{ project: string; code: string }> },
): Promise<Response> {
  const name = nameOf(await params);
  return respond(() => viewScene(name, new URL(request.url).searchParams.get("path") ?? ""));
}
