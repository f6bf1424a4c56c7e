/** The stream of news: one for all tabs of a browser, held open for as long as somebody listens. */
import { live } from "@/server/http/live";
import type { LiveMessage } from "@/contract/live";

export const dynamic = "force-dynamic";

/** Keeps idle connections from being cut on the way. */
const PING_MS = 20_000;

/**
 * Answers a stream that ends when the listener goes away. What was missed while nobody listened is not told:
 * a page asks for everything once when it comes back, and for what changed from then on.
 */
export function GET(request: Request): Response {
  const encoder = new TextEncoder();
  const stream = new ReadableStream({
    start(controller) {
      const send = (text: string): void => {
        try {
          controller.enqueue(encoder.encode(text));
        } catch {
          close();
        }
      };
      const unsubscribe = live().subscribe((message: LiveMessage) =>
        send(`data: ${JSON.stringify(message)}\n\n`),
      );
      const ping = setInterval(() => send(": ping\n\n"), PING_MS);
      const close = (): void => {
        clearInterval(ping);
        unsubscribe();
      };
      send(": hello\n\n");
      request.signal.addEventListener("abort", close);
    },
  });
  return new Response(stream, {
    headers: { "content-type": "text/event-stream", "cache-control": "no-store", "x-accel-buffering": "no" },
  });
}
