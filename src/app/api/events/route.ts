/** The stream of news: one for all tabs of a browser, held open for as long as somebody listens. */
import { live } from "@/server/http/live";
import type { LiveMessage } from "@/contract/live";

export const dynamic = "force-dynamic";

/** Keeps idle connections from being cut on the way. */
const PING_MS = 20_000;

/** News that a listener has not taken; one that is slower than that is let go. */
const MOST_UNREAD_BYTES = 4_000_000;

/**
 * Answers a stream that ends when the listener goes away. What was missed while nobody listened is not told:
 * a page asks for everything once when it comes back, and for what changed from then on.
 */
export function GET(request: Request): Response {
  const encoder = new TextEncoder();
  const start = (controller: ReadableStreamDefaultController<Uint8Array>): void => {
    const send = (text: string): void => {
      try {
        controller.enqueue(encoder.encode(text));
        // It reconnects, and asks for everything once: cheaper than to keep what it does not read.
        if ((controller.desiredSize ?? 0) <= 0) {
          close();
          controller.close();
        }
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
  };
  const stream = new ReadableStream(
    { start },
    new ByteLengthQueuingStrategy({ highWaterMark: MOST_UNREAD_BYTES }),
  );
  return new Response(stream, {
    headers: { "content-type": "text/event-stream", "cache-control": "no-store", "x-accel-buffering": "no" },
  });
}
