/**
 * Lines of a program's output, whatever it writes: a line is kept to so many characters, and what it has beyond
 * them is counted and not held. A line without an end costs no more than a short one.
 */
export class LineCutter {
  readonly #longest: number;
  readonly #onLine: (line: string) => void;
  #line = "";
  /** Characters of the line that were not kept. */
  #more = 0;

  /** @param longest characters of a line that are kept */
  constructor(longest: number, onLine: (line: string) => void) {
    this.#longest = longest;
    this.#onLine = onLine;
  }

  /** Takes what came next; a line may come in any number of pieces. */
  write(text: string): void {
    for (let from = 0; from < text.length;) {
      const end = text.indexOf("\n", from);
      const piece = text.slice(from, end < 0 ? text.length : end);
      const room = Math.max(0, this.#longest - this.#line.length);
      this.#line += piece.slice(0, room);
      this.#more += Math.max(0, piece.length - room);
      if (end < 0) return;
      this.#tell();
      from = end + 1;
    }
  }

  /** The output has ended: what stands without a line's end is a line. */
  end(): void {
    if (this.#line !== "" || this.#more > 0) this.#tell();
  }

  #tell(): void {
    const line = this.#line.endsWith("\r") ? this.#line.slice(0, -1) : this.#line;
    const more = this.#more;
    this.#line = "";
    this.#more = 0;
    this.#onLine(more === 0 ? line : `${line} … ${more.toLocaleString("en")} characters more`);
  }
}
