/**
 * Asks again for what has changed. A question that is open is never asked a second time: what changes
 * meanwhile is asked for once, when its answer is there. And the longer an answer takes, the longer it
 * is left alone: a page asks for at most a third of the time, so that what people click has the way
 * free (HTTP/1.1 allows six connections; 44 open questions kept a Stop waiting for 36 s).
 */
import {
  hashKey,
  type Query,
  type QueryClient,
  type QueryFilters,
  type QueryKey,
} from "@tanstack/react-query";

/** Rest after an answer, in times of how long it took. */
const REST_SHARE = 2;
/** News of twenty frames a second make ten questions at most. */
const LEAST_REST_MS = 100;

/** @see News, which says what changed */
export class Refresher {
  readonly #client: QueryClient;
  readonly #now: () => number;
  /** Questions that are open or rest, by hash; true: they shall be asked again. */
  readonly #busy = new Map<string, boolean>();

  constructor(client: QueryClient, now: () => number = () => performance.now()) {
    this.#client = client;
    this.#now = now;
  }

  /** Marks answers as out of date, and asks again for those that are shown. */
  refresh(filters: QueryFilters): void {
    // Whoever opens one later asks anew.
    void this.#client.invalidateQueries({ ...filters, refetchType: "none" });
    for (const query of this.#client.getQueryCache().findAll({ ...filters, type: "active" }))
      this.#ask(query);
  }

  #ask(query: Query): void {
    const { queryHash } = query;
    if (this.#busy.has(queryHash)) {
      this.#busy.set(queryHash, true);
      return;
    }
    this.#busy.set(queryHash, false);
    const began = this.#now();
    void this.#client
      .refetchQueries({ predicate: (q) => q.queryHash === queryHash }, { cancelRefetch: false })
      .catch(() => undefined)
      .then(() =>
        setTimeout(
          () => this.#rested(query.queryKey),
          Math.max(LEAST_REST_MS, (this.#now() - began) * REST_SHARE),
        ),
      );
  }

  // Asked again if something changed meanwhile, and if it is still shown.
  #rested(key: QueryKey): void {
    const hash = hashKey(key);
    const again = this.#busy.get(hash) === true;
    this.#busy.delete(hash);
    const query = this.#client.getQueryCache().get(hash);
    if (again && query?.isActive() === true) this.#ask(query);
  }
}
