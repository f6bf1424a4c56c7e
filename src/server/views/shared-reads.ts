/**
 * Several that ask for one thing at one moment get one answer. Never one that was begun before they
 * asked: what changed in between would be missing, and nothing would say so again. Whoever comes while
 * an answer is read waits for the next one, together with all others that wait.
 */
interface Reading<T> {
  readonly now: Promise<T>;
  next: Promise<T> | null;
}

/**
 * One read for all that ask while the next read has not begun; a read that is under way is never joined, as
 * it may have begun before what the asker wants to see.
 */
export class SharedReads<K, T> {
  readonly #read: (key: K) => Promise<T>;
  readonly #open = new Map<K, Reading<T>>();

  constructor(read: (key: K) => Promise<T>) {
    this.#read = read;
  }

  ask(key: K): Promise<T> {
    const open = this.#open.get(key);
    if (open === undefined) return this.#begin(key);
    open.next ??= open.now.then(
      () => this.#begin(key),
      () => this.#begin(key),
    );
    return open.next;
  }

  #begin(key: K): Promise<T> {
    const reading: Reading<T> = { now: this.#read(key), next: null };
    this.#open.set(key, reading);
    const close = (): void => {
      if (this.#open.get(key) === reading && reading.next === null) this.#open.delete(key);
    };
    reading.now.then(close, close);
    return reading.now;
  }
}
