import type { LoadedPixels } from "@/contract/picture-messages";
import { FrameMemory } from "./frame-memory";
import type { LoadEnd, PictureSource } from "./picture-loader";

/** A picture of so many bytes. */
const picture = (bytes: number): LoadedPixels => ({
  kind: "halves",
  width: bytes / 2,
  height: 1,
  wholeWidth: bytes / 2,
  wholeHeight: 1,
  channels: 1,
  data: new Uint16Array(bytes / 2),
});

/** Ends what was asked for when the test says so. */
class ByHand implements PictureSource {
  readonly atOnce = 2;
  readonly asked: string[] = [];
  readonly dropped: string[] = [];
  isClosed = false;
  readonly #ends = new Map<string, (end: LoadEnd) => void>();

  load(url: string, onEnd: (end: LoadEnd) => void): () => void {
    this.asked.push(url);
    this.#ends.set(url, onEnd);
    return () => {
      this.dropped.push(url);
      this.end(url, { type: "dropped" });
    };
  }

  close(): void {
    this.isClosed = true;
  }

  end(url: string, end: LoadEnd): void {
    this.#ends.get(url)!(end);
  }

  /** All that is asked for arrives, until nothing is. */
  deliver(bytes: number): void {
    for (let i = 0; i < this.asked.length; i++)
      if (this.#ends.has(this.asked[i]!)) {
        const end = this.#ends.get(this.asked[i]!)!;
        this.#ends.delete(this.asked[i]!);
        end({ type: "loaded", pixels: picture(bytes) });
      }
  }
}

const names = (from: number, to: number): string[] =>
  Array.from({ length: to - from + 1 }, (_, i) => `p${from + i}`);
const open = (budget: number) => {
  const source = new ByHand();
  const memory = new FrameMemory(source, budget, () => undefined);
  const there = (all: readonly string[]): string[] => all.filter((url) => memory.has(url));
  return { source, memory, there };
};

test("what is wanted first is asked for first, no more at once than the source takes", () => {
  const { source, memory } = open(1e9);
  memory.want([], names(1, 9));
  expect(source.asked).toEqual(["p1", "p2"]);
  source.deliver(100);
  expect(source.asked).toEqual(names(1, 9));
  expect(memory.bytes).toBe(900);
});

test("the budget is kept, and what is wanted first is there; a moved window lets the rest go", () => {
  const { source, memory, there } = open(20_000_000);
  const [size, all] = [4_000_000, names(1, 12)];
  memory.want([], all);
  source.deliver(size);
  expect(memory.bytes).toBeLessThanOrEqual(20_000_000);
  expect(there(all)).toEqual(names(1, 5));
  expect(memory.fits).toBe(5);
  memory.want([], names(4, 8));
  source.deliver(size);
  expect(there(all)).toEqual(names(4, 8));
  expect(memory.bytes).toBe(5 * size);
});

test("a whole picture that one looks at is no measure of what is read ahead", () => {
  const { source, memory } = open(20_000_000);
  memory.want(["whole"], names(1, 9));
  source.end("whole", { type: "loaded", pixels: picture(8_000_000) });
  source.end("p1", { type: "loaded", pixels: picture(2_000_000) });
  memory.want(["whole"], names(1, 9));
  expect(memory.fits).toBe(10);
});

test("one picture is loaded even where it alone is beyond the budget", () => {
  const { source, memory, there } = open(1_000);
  memory.want([], ["big", "next"]);
  source.deliver(5_000_000);
  expect(there(["big", "next"])).toEqual(["big"]);
});

test("a smaller budget gives memory back at once, the least needed first", () => {
  const { source, memory, there } = open(100_000_000);
  memory.want([], names(1, 6));
  source.deliver(1_000_000);
  memory.budget = 3_000_000;
  expect(there(names(1, 6))).toEqual(["p1", "p2", "p3"]);
});

test("what nobody wants any more is given up, and makes room for what is wanted now", () => {
  const { source, memory } = open(1e9);
  memory.want([], names(1, 4));
  memory.want([], ["p9"]);
  expect(source.dropped).toEqual(["p1", "p2"]);
  expect(source.asked).toEqual(["p1", "p2", "p9"]);
});

test("a failure is told once, and asked again only where it may pass", () => {
  jest.useFakeTimers();
  const { source, memory } = open(1e9);
  memory.want([], ["broken", "away"]);
  source.end("broken", { type: "failed", why: "It is cut short.", isLasting: true });
  source.end("away", { type: "failed", why: "The server does not answer.", isLasting: false });
  expect(memory.get("broken")).toEqual({ state: "failed", why: "It is cut short." });
  jest.advanceTimersByTime(5_000);
  expect(source.asked).toEqual(["broken", "away", "away"]);
  jest.useRealTimers();
});

test("closing gives all of it back, and what still arrives is not kept", () => {
  const { source, memory } = open(1e9);
  memory.want([], names(1, 3));
  source.end("p1", { type: "loaded", pixels: picture(100) });
  memory.close();
  expect([memory.bytes, source.isClosed]).toEqual([0, true]);
  source.end("p2", { type: "loaded", pixels: picture(100) });
  expect(memory.bytes).toBe(0);
});
