/**
 * What news make of the server's answers that are kept. Changes that come with their event are put
 * in; what is only said to have changed is asked for again.
 */
import type { QueryClient, QueryKey } from "@tanstack/react-query";
import type { LiveMessage } from "@/contract/live";
import type { SequenceView, VersionChange } from "@/contract/sequence-view";
import type { ShotLine, ShotsView } from "@/contract/shot-view";
import { applyChange } from "./apply-change";
import { hearChange } from "./changes-heard";
import { wantAllLines, wantLines } from "./lines-wanted";
import { queryKeys } from "./query-keys";
import { Refresher } from "./refresher";

type Change = Extract<LiveMessage, { type: "changed" | "frames" }>;

/** A view shows its own sequence, the lines of the others of its version, and the leases of its camera. */
const concerns = (view: SequenceView | undefined, changed: ReadonlySet<number>): boolean =>
  view === undefined ||
  [view.id, view.leadId, ...view.siblings.map((s) => s.id)].some((id) => changed.has(id));

/** One a tab. Told by the stream, it changes or asks again; it never shows anything itself. */
export class News {
  readonly #client: QueryClient;
  readonly #refresher: Refresher;

  constructor(client: QueryClient) {
    this.#client = client;
    this.#refresher = new Refresher(client);
  }

  /** Everything may have changed. */
  reload(): void {
    for (const { project } of this.#ledgers()) wantAllLines(project);
    this.#refresher.refresh({});
  }

  take(message: Change): void {
    if (message.type === "changed" && message.sequences === null) return this.reload();
    const changed = new Set(
      message.type === "frames" ? message.change.sequences.map((s) => s.id) : message.sequences,
    );
    if (message.type === "frames") this.#takeIn(message.change);
    else this.#ask((view) => concerns(view, changed));
    this.#askLines(changed);
    // What is read beside the tally, where it is shown.
    const { logs, allProofs, asides, runs, handovers } = queryKeys;
    for (const queryKey of [logs, allProofs, asides, runs, handovers]) this.#refresher.refresh({ queryKey });
  }

  /** Ledgers that were read, each with its lines. */
  #ledgers(): {
    readonly project: string;
    readonly queryKey: QueryKey;
    readonly lines: readonly ShotLine[];
  }[] {
    return this.#client
      .getQueryCache()
      .findAll({ queryKey: queryKeys.shots })
      .flatMap(({ queryKey, state }) => {
        const data = state.data as Partial<ShotsView> | undefined;
        return data?.shots === undefined || data.project === undefined
          ? []
          : [{ project: data.project.slug, queryKey, lines: data.shots }];
      });
  }

  // Each ledger that is kept asks for its own lines that changed.
  #askLines(changed: ReadonlySet<number>): void {
    for (const { project, queryKey, lines } of this.#ledgers()) {
      const codes = lines
        .filter((line) => line.sequences.some((id) => changed.has(id)))
        .map((line) => line.code);
      if (codes.length === 0) continue;
      wantLines(project, codes);
      this.#refresher.refresh({ queryKey });
    }
  }

  // Whole views, where what has changed did not travel with the news.
  #ask(isMeant: (view: SequenceView | undefined) => boolean): void {
    this.#refresher.refresh({
      queryKey: queryKeys.sequences,
      predicate: ({ state }) => isMeant(state.data as SequenceView | undefined),
    });
  }

  // Into the views that are shown; for the others it is enough to know that they are out of date.
  #takeIn(change: VersionChange): void {
    hearChange(change);
    const told = new Set(change.sequences.map((s) => s.id));
    for (const id of told) {
      const query = this.#client.getQueryCache().find<SequenceView>({ queryKey: queryKeys.sequence(id) });
      if (query === undefined) continue;
      const { isInvalidated, status, fetchStatus } = query.state;
      // Nobody looks at it: whoever does later asks anew.
      if (!query.isActive()) query.invalidate();
      else {
        this.#client.setQueryData<SequenceView>(query.queryKey, (view) => view && applyChange(view, change));
        // It was out of date before: taking in a change does not mend that.
        if (fetchStatus === "idle" && (isInvalidated || status === "error"))
          this.#refresher.refresh({ queryKey: query.queryKey });
      }
    }
    // A sequence that its plan asks for no more is not among those that are told of.
    this.#ask((view) => view !== undefined && !told.has(view.id) && concerns(view, told));
  }
}
