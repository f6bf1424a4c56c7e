/**
 * Decoded pictures around the play head, by address; the address carries the content, so none is ever out of
 * date.
 */

/** About 300 pictures of 240x135 are 40 MB decoded, of 1920x1080 2.5 GB: the budget is in pixels. */
const MAX_PIXELS = 100_000_000;

/** Bounded by pixels, as pictures differ: what was used longest ago goes first. */
export class PictureStore {
  readonly #pictures = new Map<
    string,
    { readonly image: HTMLImageElement; ready: boolean; failed: boolean }
  >();
  #pixels = 0;
  readonly #onReady: () => void;

  constructor(onReady: () => void) {
    this.#onReady = onReady;
  }

  /** The picture if it is decoded, else null; asks for it in either case. */
  get(url: string): HTMLImageElement | null {
    const known = this.#pictures.get(url);
    if (known !== undefined) {
      // Newest use last, so that the oldest is let go first.
      this.#pictures.delete(url);
      this.#pictures.set(url, known);
      return known.ready ? known.image : null;
    }
    const image = new Image();
    const entry = { image, ready: false, failed: false };
    this.#pictures.set(url, entry);
    image.src = url;
    image.decode().then(
      () => {
        entry.ready = true;
        this.#pixels += image.naturalWidth * image.naturalHeight;
        this.#shrink();
        this.#onReady();
      },
      () => {
        entry.failed = true;
        this.#onReady();
      },
    );
    return null;
  }

  /** It was asked for and cannot be decoded: asked once, told in words. */
  hasFailed(url: string): boolean {
    return this.#pictures.get(url)?.failed ?? false;
  }

  /** Two always stay: the one that is shown, and the one that comes. */
  #shrink(): void {
    for (const [url, entry] of this.#pictures) {
      if (this.#pixels <= MAX_PIXELS || this.#pictures.size <= 2) return;
      if (!entry.ready) continue;
      this.#pixels -= entry.image.naturalWidth * entry.image.naturalHeight;
      this.#pictures.delete(url);
    }
  }
}
