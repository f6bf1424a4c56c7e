/** The stream of news: one for all tabs of a browser, held open for as long as somebody listens. */
import { TallyError } from "@/server/errors";
import { isLocked } from "@/server/http/door";
import { live } from "@/server/http/live";
import { errorResponse } from "@/server/http/respond";
import type { LiveMessage } from "@/contract/live";

export const dynamic = "force-dynamic";

/** Keeps idle connections from being cut on the way. */
const PING_MS = 20_000;

/** News that a listener has not taken; one that is slower than that is let go. */
const MOST_UNREAD_BYTES = 4_000_000;

/** Streams at once, over all browsers: each is a connection that is held. */
const MOST_STREAMS = 300;
/** Where people sign in, one that was turned out hears no more after so long. */
const LOCKED_STREAM_MS = 600_000;
let streams = 0;

/**
 * Answers a stream that ends when the listener goes away. What was missed while nobody listened is not told:
 * a page asks for everything once when it comes back, and for what changed from then on.
 */
export function GET(request: Request): Response {
  if (streams >= MOST_STREAMS) return errorResponse(new TallyError("too-many-streams"));
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
    streams++;
    let isOpen = true;
    const close = (): void => {
      if (isOpen) streams--;
      isOpen = false;
      clearInterval(ping);
      clearTimeout(end);
      unsubscribe();
    };
    // The browser comes again, past the door.
    const end = isLocked()
      ? setTimeout(() => {
          close();
          controller.close();
        }, LOCKED_STREAM_MS)
      : undefined;
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
