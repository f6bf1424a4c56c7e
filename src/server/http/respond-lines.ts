/** Long work that is told while it goes on, a JSON object a line: whoever ends the request ends the work. */
import { TallyError } from "../errors";

/** A line about how far it is is sent after so many milliseconds at least. */
const TOLD_EVERY_MS = 200;

export interface LinesOfWork<M> {
  readonly signal: AbortSignal;
  /** How far it is; what comes too soon after another is left out. */
  readonly sayOften: (message: M) => void;
  readonly say: (message: M) => void;
}

/**
 * @param work says its end by itself
 * @param failed the sentence for what is no fault of the call
 */
export function respondLines<M extends object>(
  request: Request,
  failed: string,
  work: (lines: LinesOfWork<M | { readonly type: "wrong"; readonly message: string }>) => Promise<void>,
): Response {
  const ended = new AbortController();
  request.signal.addEventListener("abort", () => ended.abort());
  const encoder = new TextEncoder();
  const body = new ReadableStream<Uint8Array>({
    async start(control) {
      const say = (message: object): void => {
        if (!ended.signal.aborted) control.enqueue(encoder.encode(`${JSON.stringify(message)}\n`));
      };
      let toldAt = 0;
      const sayOften = (message: object): void => {
        const now = performance.now();
        if (now - toldAt < TOLD_EVERY_MS) return;
        toldAt = now;
        say(message);
      };
      try {
        await work({ signal: ended.signal, say, sayOften });
      } catch (error) {
        say({ type: "wrong", message: error instanceof TallyError ? error.message : failed });
      }
      if (!ended.signal.aborted) control.close();
    },
    cancel: () => ended.abort(),
  });
  return new Response(body, {
    headers: { "content-type": "application/x-ndjson", "cache-control": "no-store" },
  });
}
