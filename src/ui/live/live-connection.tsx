"use client";
/**
 * One stream of server-sent events for all tabs of a browser (HTTP/1.1 allows six connections): the
 * tab that holds the lock listens and passes messages on; a hidden tab lets go. A tab that was away
 * reloads what it shows.
 */
import { useQueryClient } from "@tanstack/react-query";
import { useEffect } from "react";
import { setLive } from "./live-store";
import { queryKeys } from "./query-keys";
import { Refresher } from "./refresher";
import type { SequenceView } from "@/contract/sequence-view";
import type { LiveMessage } from "@/contract/live";

const NAME = "plain-tally-live";
const SERVER_AWAY =
  "The server does not answer. Nothing is lost; this page goes on by itself when it is back.";

/** Between tabs also: the stream is there again; and a tab that has just come asks how things stand. */
type Passed = LiveMessage | { readonly type: "reconnected" } | { readonly type: "hello" };

/** A view shows its own sequence, the lines of the others of its version, and the leases of its camera. */
const concerns = (view: SequenceView | undefined, changed: ReadonlySet<number>): boolean =>
  view === undefined ||
  [view.id, view.leadId, ...view.siblings.map((s) => s.id)].some((id) => changed.has(id));

export function LiveConnection(): null {
  const client = useQueryClient();
  useEffect(() => {
    const channel = new BroadcastChannel(NAME);
    const refresher = new Refresher(client);
    const reload = (): void => refresher.refresh({});
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
            at: Date.now(),
            trouble: null,
          });
          break;
        case "trouble":
          setLive({ trouble: message.message });
          break;
        case "reconnected":
          setLive({ trouble: null });
          reload();
          break;
        case "changed":
          if (message.sequences === null) reload();
          else {
            const changed = new Set(message.sequences);
            refresher.refresh({
              queryKey: queryKeys.sequences,
              predicate: (query) => concerns(query.state.data as SequenceView | undefined, changed),
            });
            for (const queryKey of [queryKeys.shots, queryKeys.logs, queryKeys.allProofs])
              refresher.refresh({ queryKey });
          }
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
            if (message.type !== "changed") standing = message;
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
        reload();
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
