import type { LoadedPixels } from "@/contract/picture-messages";
import type { LoadEnd, PictureSource } from "./picture-loader";
import { type PlaySettings, Player, type ScreenClock, type Shown } from "./player";
import { BY_PLACE, type Reel } from "./reel";

const PIXELS: LoadedPixels = {
  kind: "halves",
  width: 2,
  height: 1,
  wholeWidth: 2,
  wholeHeight: 1,
  channels: 1,
  data: new Uint16Array(2),
};

/** Everything is there at once, but for what is held back. */
class Shelf implements PictureSource {
  readonly atOnce = 4;
  readonly held = new Set<string>();
  readonly #waiting = new Map<string, (end: LoadEnd) => void>();

  load(url: string, onEnd: (end: LoadEnd) => void): () => void {
    this.#waiting.set(url, onEnd);
    queueMicrotask(() => this.#give(url));
    return () => {
      this.#waiting.delete(url);
      onEnd({ type: "dropped" });
    };
  }

  close(): void {
    this.#waiting.clear();
  }

  release(): void {
    this.held.clear();
    for (const url of [...this.#waiting.keys()]) this.#give(url);
  }

  #give(url: string): void {
    const end = this.#waiting.get(url);
    if (end === undefined || [...this.held].some((part) => url.startsWith(`${part}&`))) return;
    this.#waiting.delete(url);
    end({ type: "loaded", pixels: PIXELS });
  }
}

/** Each picture takes its time, and so many come at once. */
class SlowShelf implements PictureSource {
  readonly atOnce = 2;
  readonly #waiting = new Map<string, { readonly at: number; readonly onEnd: (end: LoadEnd) => void }>();

  constructor(
    private readonly screen: Screen,
    private readonly takesMs: number,
  ) {
    screen.onRefresh = () => this.#giveDue();
  }

  load(url: string, onEnd: (end: LoadEnd) => void): () => void {
    this.#waiting.set(url, { at: this.screen.now() + this.takesMs, onEnd });
    return () => {
      if (this.#waiting.delete(url)) onEnd({ type: "dropped" });
    };
  }

  close(): void {
    this.#waiting.clear();
  }

  #giveDue(): void {
    for (const [url, { at, onEnd }] of [...this.#waiting]) {
      if (at > this.screen.now()) continue;
      this.#waiting.delete(url);
      onEnd({ type: "loaded", pixels: PIXELS });
    }
  }
}

/** A screen of 60 refreshes a second that a test turns on by hand. */
class Screen implements ScreenClock {
  #ms = 0;
  #tick: (() => void) | null = null;
  onRefresh: () => void = () => undefined;
  readonly now = (): number => this.#ms;
  readonly request = (tick: () => void): number => {
    this.#tick = tick;
    return 1;
  };
  readonly cancel = (): void => {
    this.#tick = null;
  };

  async run(refreshes: number, refreshMs = 1000 / 60): Promise<void> {
    for (let i = 0; i < refreshes; i++) {
      this.#ms += refreshMs;
      this.onRefresh();
      const tick = this.#tick;
      this.#tick = null;
      tick?.();
      await Promise.resolve();
    }
  }
}

const reelOf = (count: number, gaps: readonly number[] = []): Reel => ({
  count,
  layers: 1,
  addressAt: (place) => (gaps.includes(place) ? null : `f${place}`),
  ...BY_PLACE,
});
/** Frames of a sequence by their numbers. */
const framesOf = (...numbers: readonly number[]): Reel => ({
  count: numbers.length,
  layers: 1,
  addressAt: (place) => `f${numbers[place]}`,
  numberAt: (place) => numbers[place] ?? null,
  placeOf: (number) =>
    Math.max(
      0,
      numbers.findLastIndex((one) => one <= number),
    ),
});
const SETTINGS: PlaySettings = {
  first: 0,
  last: 9,
  every: 1,
  ends: "loop",
  holdSeconds: 0,
  rate: { numerator: 24, denominator: 1 },
  missing: "gap",
  over: 2,
  budget: 1e9,
};

/** @param held what is not given until it is released */
async function open(
  reel: Reel,
  settings: Partial<PlaySettings> = {},
  place = 0,
  held: readonly string[] = [],
) {
  const [shelf, screen] = [new Shelf(), new Screen()];
  for (const one of held) shelf.held.add(one);
  const shown: Shown[] = [];
  const stood: (readonly [place: number, isStep: boolean])[] = [];
  const player = new Player(
    shelf,
    reel,
    { ...SETTINGS, ...settings },
    place,
    { onShow: (what) => shown.push(what), onStand: (...what) => stood.push(what) },
    screen,
  );
  // Loads follow one another by microtasks.
  for (let i = 0; i < 200; i++) await Promise.resolve();
  shown.length = 0;
  return { shelf, screen, player, shown, stood, places: () => shown.map((what) => what.place) };
}

/** Without the same twice in a row. */
const order = (places: readonly number[]): number[] => places.filter((place, i) => place !== places[i - 1]);

beforeEach(() => jest.useFakeTimers({ doNotFake: ["queueMicrotask"] }));
afterEach(() => jest.useRealTimers());

test("24 a second on a screen of 60: each frame once, in order, round and round, none dropped", async () => {
  const { player, screen, shown, places } = await open(reelOf(10));
  player.play(1);
  await screen.run(120);
  expect(shown).toHaveLength(49);
  expect(places().slice(0, 12)).toEqual([0, 1, 2, 3, 4, 5, 6, 7, 8, 9, 0, 1]);
  player.stop();
  expect(player.snapshot()).toMatchObject({ dropped: 0, shown: 49, direction: 0 });
});

test("a picture that is not there in time is dropped and counted; the rate is kept", async () => {
  const small = { last: 99, budget: 8 * 20, over: 4 } as const;
  const { player, screen, places } = await open(reelOf(100), small, 0, ["f30", "f31"]);
  player.play(1);
  await screen.run(90);
  const seen = order(places());
  expect(seen).toEqual([...Array(30).keys(), ...Array.from({ length: 5 }, (_, i) => 32 + i)]);
  expect(player.snapshot().isWindow).toBe(true);
  player.stop();
  expect(player.snapshot().dropped).toBe(2);
});

test("a slow screen drops what falls between two refreshes, and says how many", async () => {
  const { player, screen } = await open(reelOf(10));
  player.play(1);
  await screen.run(12, 1000 / 12);
  player.stop();
  expect(player.snapshot()).toMatchObject({ shown: 13, dropped: 12 });
});

test("it begins at once with what there is, and goes on when the rest arrives", async () => {
  const { player, screen, shelf, shown, places } = await open(reelOf(10));
  const fresh = await open(reelOf(10));
  fresh.player.close();
  for (let i = 2; i < 10; i++) shelf.held.add(`g${i}`);
  player.set({ ...reelOf(10), addressAt: (place) => `g${place}` }, SETTINGS);
  await screen.run(1);
  shown.length = 0;
  player.play(1);
  await screen.run(10);
  expect(order(places())).toEqual([0, 1]);
  shelf.release();
  await screen.run(10);
  expect(order(places()).at(-1)).toBeGreaterThan(5);
});

test.each([
  ["gap", [0, 1, 2, 3, 4, 0], [false, false, true, false, false, false]],
  ["hold", [0, 1, 1, 3, 4, 0], [false, false, false, false, false, false]],
  ["skip", [0, 1, 3, 4, 0, 1], [false, false, false, false, false, false]],
] as const)("a missing frame is told as one: %s", async (missing, pictures, gaps) => {
  const { player, screen, shown } = await open(reelOf(5, [2]), { last: 4, missing });
  player.play(1);
  await screen.run(13);
  player.stop();
  const seen = shown.slice(0, 6);
  expect(seen.map(({ layers }) => layers[0]!.place)).toEqual(pictures);
  expect(seen.map(({ layers }) => layers[0]!.isMissing)).toEqual(gaps);
});

test("standing, the whole picture is shown as soon as it is there; moving, the smaller one", async () => {
  const asked: string[] = [];
  const { player, shelf, screen } = await open(reelOf(10));
  const load = shelf.load.bind(shelf);
  shelf.load = (url, onEnd) => {
    asked.push(url);
    return load(url, onEnd);
  };
  player.goTo(4);
  expect(asked).toEqual(["f4&as=pixels&over=1"]);
  player.play(1);
  await screen.run(5);
  expect(asked.filter((url) => url.endsWith("over=1"))).toHaveLength(1);
});

test("two layers: a place is shown when both are there", async () => {
  const { player, screen, places } = await open(
    { ...reelOf(10), layers: 2, addressAt: (place, layer) => `${layer === 0 ? "a" : "b"}${place}` },
    {},
    0,
    ["b5"],
  );
  player.play(1);
  await screen.run(20);
  expect(order(places())).toEqual([0, 1, 2, 3, 4, 6, 7, 8]);
});

test("a reel without a place neither plays nor fails", async () => {
  const { player, screen, shown } = await open(reelOf(0), { last: -1 });
  player.play(1);
  await screen.run(3);
  player.goTo(3);
  player.stop();
  expect(shown.every(({ layers }) => layers.every(({ pixels }) => pixels === null))).toBe(true);
});

test("what is in memory is told; closing gives it back", async () => {
  const { player } = await open(reelOf(10));
  jest.advanceTimersByTime(1_000);
  expect(player.snapshot()).toMatchObject({ loaded: [...Array(10).keys()], isWindow: false });
  expect(player.snapshot().bytes).toBeGreaterThan(0);
  player.close();
});

test("where it stands is told: after a step, and when playing ends; not while it plays", async () => {
  const { player, screen, stood } = await open(reelOf(10));
  player.goTo(4);
  player.goTo(4);
  expect(stood).toEqual([[4, true]]);
  player.play(1);
  await screen.run(20);
  expect(stood).toHaveLength(1);
  player.stop();
  expect(stood.slice(1)).toEqual([[player.snapshot().place, false]]);
});

test("the frame stays when others come and go, standing and playing; where it is gone, the one before is told", async () => {
  const { player, screen, stood, shown } = await open(framesOf(10, 20, 30), { last: 2 }, 1);
  player.set(framesOf(5, 10, 20, 30), { ...SETTINGS, last: 3 });
  expect(player.snapshot().place).toBe(2);
  expect(stood).toEqual([]);
  player.set(framesOf(5, 10, 30), { ...SETTINGS, last: 2 });
  expect(player.snapshot().place).toBe(1);
  expect(stood).toEqual([[1, false]]);
  player.play(1);
  await screen.run(1);
  player.set(framesOf(1, 2, 5, 10, 30), { ...SETTINGS, last: 4 });
  await screen.run(1);
  expect(shown.at(-1)!.place).toBe(3);
});

test("an address is asked for once, however long it plays; what fits is told when the pictures are known", async () => {
  const asked: number[] = [];
  const reel: Reel = {
    ...reelOf(2_000),
    addressAt: (place) => {
      asked.push(place);
      return `f${place}`;
    },
  };
  // Guessed to be large, and found to be small: all of them fit.
  const { player, screen } = await open(reel, { last: 1_999, budget: 1e9 });
  for (let i = 0; i < 20_000; i++) await Promise.resolve();
  jest.advanceTimersByTime(1_000);
  expect(player.snapshot().loaded).toHaveLength(2_000);
  player.play(1);
  await screen.run(600);
  expect(asked).toHaveLength(2_000);
});

test("pictures that come slower than they are due: it begins with the first, and shows as many as come", async () => {
  const screen = new Screen();
  const shown: Shown[] = [];
  // Two at once, a fifth of a second each: ten a second of 24.
  const player = new Player(
    new SlowShelf(screen, 200),
    reelOf(1_000),
    { ...SETTINGS, last: 999 },
    0,
    { onShow: (what) => shown.push(what), onStand: () => undefined },
    screen,
  );
  player.play(1);
  shown.length = 0;
  await screen.run(15);
  // The clock begins with the first picture: nothing was dropped before it.
  expect(shown[0]!.place).toBe(0);
  await screen.run(60 * 10);
  player.stop();
  const { shown: pictures, dropped } = player.snapshot();
  expect(pictures).toBeGreaterThan(85);
  expect(pictures).toBeLessThanOrEqual(102);
  // By the clock all the same.
  expect(pictures + dropped).toBeGreaterThan(235);
});
