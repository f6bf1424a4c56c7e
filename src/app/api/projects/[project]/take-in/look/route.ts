/** A look at a folder that something else has filled: long ones are told while they go on. */
import { checkPointedFolder, type LookMessage } from "@/contract/take-in";
import { TallyError } from "@/server/errors";
import { lookAtFolder } from "@/server/folder/found-folder";
import { pointedPlace } from "@/server/folder/place-below-root";
import { readBody, respond } from "@/server/http/respond";
import { requireProject } from "@/server/store/find-shot";
import { viewFoundFolder } from "@/server/views/found-folder";

/** A line is sent after so many milliseconds at least. */
const TOLD_EVERY_MS = 200;

/** Body: a PointedFolder. Answers LookMessages, a line each; whoever ends the request ends the look. */
export async function POST(
  request: Request,
  { params }: { params: Promise<{ project: string }> },
): Promise<Response> {
  const { project } = await params;
  return respond(async () => {
    const place = await pointedPlace(await readBody(request, checkPointedFolder));
    const { rate } = await requireProject(project);
    const ended = new AbortController();
    request.signal.addEventListener("abort", () => ended.abort());
    const encoder = new TextEncoder();
    const body = new ReadableStream<Uint8Array>({
      async start(control) {
        const say = (message: LookMessage): void =>
          control.enqueue(encoder.encode(`${JSON.stringify(message)}\n`));
        let toldAt = 0;
        try {
          const found = await lookAtFolder(place, {
            signal: ended.signal,
            onFolder: (soFar) => {
              const now = performance.now();
              if (now - toldAt < TOLD_EVERY_MS) return;
              toldAt = now;
              say({ type: "so-far", ...soFar });
            },
          });
          say({ type: "found", found: await viewFoundFolder(found, rate) });
        } catch (error) {
          if (!ended.signal.aborted)
            say({
              type: "wrong",
              message: error instanceof TallyError ? error.message : "The folder cannot be looked at now.",
            });
        }
        if (!ended.signal.aborted) control.close();
      },
      cancel: () => ended.abort(),
    });
    return new Response(body, {
      headers: { "content-type": "application/x-ndjson", "cache-control": "no-store" },
    });
  });
}
