"use client";
/** Workers that fetch and decode pictures, a picture each at a time, told apart by a number. */
import type {
  LoadedPixels,
  PictureAnswer,
  PictureRefusal,
  PictureRequest,
} from "@/contract/picture-messages";

/** Browsers open six connections to a server; one carries the news, one is left for the page. */
const MOST_AT_ONCE = 4;

/** What became of one that was asked for. */
export type LoadEnd =
  | { readonly type: "loaded"; readonly pixels: LoadedPixels }
  | { readonly type: "failed"; readonly why: string; readonly isLasting: boolean }
  | { readonly type: "dropped" };

/** Where pictures come from: workers, or whatever a test puts in their place. */
export interface PictureSource {
  /** Pictures that may be asked for at the same time. */
  readonly atOnce: number;
  /** @param onEnd called once @returns gives it up; it may arrive all the same */
  load(url: string, onEnd: (end: LoadEnd) => void): () => void;
  /** Ends the workers. Nothing is told any more. */
  close(): void;
}

interface Seat {
  readonly worker: Worker;
  /** Of the picture that it has. */
  id: number | null;
}

/** Workers are begun when the first picture is asked for. */
export class PictureLoader implements PictureSource {
  readonly atOnce = Math.max(2, Math.min(MOST_AT_ONCE, navigator.hardwareConcurrency || 2));
  readonly #seats: Seat[] = [];
  readonly #waiting = new Map<number, (end: LoadEnd) => void>();
  #next = 0;
  #isClosed = false;

  load(url: string, onEnd: (end: LoadEnd) => void): () => void {
    const seat = this.#freeSeat();
    const id = this.#next++;
    seat.id = id;
    this.#waiting.set(id, onEnd);
    // The worker's own address is another one than the page's.
    const address = new URL(url, location.href).href;
    seat.worker.postMessage({ type: "load", id, url: address } satisfies PictureRequest);
    return () => seat.worker.postMessage({ type: "drop", id } satisfies PictureRefusal);
  }

  close(): void {
    this.#isClosed = true;
    for (const { worker } of this.#seats) worker.terminate();
    this.#seats.length = 0;
    this.#waiting.clear();
  }

  #freeSeat(): Seat {
    const free = this.#seats.find(({ id }) => id === null);
    if (free !== undefined) return free;
    const worker = new Worker(new URL("./picture-worker.ts", import.meta.url), { type: "module" });
    const seat: Seat = { worker, id: null };
    this.#seats.push(seat);
    worker.addEventListener("message", ({ data }: MessageEvent<PictureAnswer>) => {
      if (data.type === "ready") return;
      this.#end(seat, data.id, data);
    });
    worker.addEventListener("error", (event) => {
      event.preventDefault();
      worker.terminate();
      this.#seats.splice(this.#seats.indexOf(seat), 1);
      if (seat.id !== null)
        this.#end(seat, seat.id, {
          type: "failed",
          why: "The browser broke off while it decoded this picture.",
          isLasting: true,
        });
    });
    return seat;
  }

  #end(seat: Seat, id: number, end: LoadEnd): void {
    seat.id = null;
    const tell = this.#waiting.get(id);
    this.#waiting.delete(id);
    if (!this.#isClosed) tell?.(end);
  }
}
