"use client";
/**
 * One stream of server-sent events for all tabs of a browser (HTTP/1.1 allows six connections): the
 * tab that holds the lock listens and passes messages on; a hidden tab lets go. A tab that was away
 * reloads what it shows.
 */
import { useQueryClient } from "@tanstack/react-query";
import { useEffect } from "react";
import { setLive } from "./live-store";
import type { LiveMessage } from "@/contract/live";
import { News } from "./news";

/** Of the lock, and of the channel between tabs. */
const NAME = "plain-tally-live";
/** In the line at the top of every page. */
const SERVER_AWAY =
  "The server does not answer. Nothing is lost; this page goes on by itself when it is back.";

/** Between tabs also: the stream is there again; and a tab that has just come asks how things stand. */
type Passed = LiveMessage | { readonly type: "reconnected" } | { readonly type: "hello" };

/** Shows nothing. A tab that the browser froze asks for everything when it wakes. */
export function LiveConnection(): null {
  const client = useQueryClient();
  useEffect(() => {
    const channel = new BroadcastChannel(NAME);
    const news = new News(client);
    /** How things stand, in the tab that listens; null in the others. */
    let standing: LiveMessage | null = null;
    const receive = (message: Passed): void => {
      switch (message.type) {
        case "hello":
          if (standing !== null) channel.postMessage(standing);
          break;
        case "live":
          setLive({
            rendering: message.rendering,
            nodes: message.nodes,
            lastFrameSeconds: message.lastFrameSeconds,
            outOfSight: message.outOfSight,
            at: Date.now(),
            trouble: null,
          });
          break;
        case "trouble":
          setLive({ trouble: message.message });
          break;
        case "reconnected":
          setLive({ trouble: null });
          news.reload();
          break;
        case "changed":
        case "frames":
          news.take(message);
      }
    };
    channel.onmessage = (event: MessageEvent<Passed>) => receive(event.data);
    const tell = (message: Passed): void => {
      receive(message);
      channel.postMessage(message);
    };

    let stop: (() => void) | null = null;
    /** Waits for its turn, then listens until `stop`. */
    const listen = (): void => {
      const ended = new AbortController();
      stop = () => ended.abort();
      const turn = (): Promise<void> =>
        new Promise((resolve) => {
          if (ended.signal.aborted) return resolve();
          const source = new EventSource("/api/events");
          source.onopen = () => tell({ type: "reconnected" });
          source.onmessage = (event: MessageEvent<string>) => {
            const message = JSON.parse(event.data) as LiveMessage;
            if (message.type === "live" || message.type === "trouble") standing = message;
            tell(message);
          };
          source.onerror = () => {
            standing = { type: "trouble", message: SERVER_AWAY };
            tell(standing);
          };
          ended.signal.addEventListener("abort", () => {
            source.close();
            standing = null;
            resolve();
          });
        });
      // Locks exist on loopback and secure pages only; elsewhere each tab listens for itself.
      const done =
        "locks" in navigator ? navigator.locks.request(NAME, { signal: ended.signal }, turn) : turn();
      done.catch((error: Error) => {
        if (error.name !== "AbortError") throw error;
      });
    };
    const onVisibility = (): void => {
      if (document.hidden) {
        stop?.();
        stop = null;
      } else if (stop === null) {
        news.reload();
        channel.postMessage({ type: "hello" } satisfies Passed);
        listen();
      }
    };
    onVisibility();
    document.addEventListener("visibilitychange", onVisibility);
    return () => {
      document.removeEventListener("visibilitychange", onVisibility);
      stop?.();
      channel.close();
    };
  }, [client]);
  return null;
}
