/**
 * Plays a reel by the clock, out of memory. It knows no React and no canvas: pictures that are due are handed to
 * `onShow` on the screen's refresh, and whoever wants figures listens to snapshots, which come some times a second.
 *
 *     standing   the place's pictures in full size; what comes next is read ahead
 *     playing    a place that is due is shown when all of its pictures are there; one that passes by without is dropped
 *
 * A dropped place is counted and never caught up with: the rate is kept.
 */
import type { LoadedPixels } from "@/contract/picture-messages";
import type { Reduction } from "@/contract/viewer-picture";
import {
  beatAt,
  comingPlaces,
  type Direction,
  type Ends,
  placeAtBeat,
  type PlayRound,
} from "@/core/playback/play-clock";
import { lastAtOrBelow } from "@/core/frames/search";
import type { Rate } from "@/core/timing/rate";
import { FrameMemory } from "./frame-memory";
import type { PictureSource } from "./picture-loader";
import { filledPlaces, type MissingWay, type Reel } from "./reel";
import { ReelPictures } from "./reel-pictures";

export interface PlaySettings {
  /** Places, both inclusive. */
  readonly first: number;
  readonly last: number;
  readonly every: number;
  readonly ends: Ends;
  /** That each end is shown longer. */
  readonly holdSeconds: number;
  readonly rate: Rate;
  readonly missing: MissingWay;
  /** Of pictures in motion. */
  readonly over: Reduction;
  /** Bytes of decoded pictures. */
  readonly budget: number;
}

/** One layer of what is on show. */
export interface ShownPicture {
  /** Null: nothing is there, or not yet. */
  readonly pixels: LoadedPixels | null;
  /** Why it cannot be shown; null where it can, where it is on its way, and where there is none. */
  readonly why: string | null;
  /** The place that it is of: another one where it stands in for a missing one. */
  readonly place: number;
  /** There is no picture of it at all. */
  readonly isMissing: boolean;
}

export interface Shown {
  readonly place: number;
  /** 0 while it stands. */
  readonly direction: 0 | Direction;
  readonly layers: readonly ShownPicture[];
}

export interface PlayerSnapshot {
  readonly place: number;
  /** 0 while it stands. */
  readonly direction: 0 | Direction;
  /** Pictures shown a second, over the last second; null while it stands, and in the first second. */
  readonly shownRate: number | null;
  /** Since playing began. */
  readonly shown: number;
  readonly dropped: number;
  /** Places of the range whose pictures are in memory, in the size of motion. */
  readonly loaded: readonly number[];
  /** Places of the range that have a picture; null where there are too many to be counted all the time. */
  readonly pictures: number | null;
  /** The range does not fit into the budget. */
  readonly isWindow: boolean;
  readonly bytes: number;
}

/** What a player tells at once; figures come by snapshots. */
export interface PlayerEvents {
  /** On the screen's refresh: paints, and nothing else. */
  readonly onShow: (shown: Shown) => void;
  /** It stands at a place where it did not stand before. @param isStep somebody stepped there, and nothing played */
  readonly onStand: (place: number, isStep: boolean) => void;
}

/** The screen's clock; tests have one of their own. */
export interface ScreenClock {
  readonly now: () => number;
  readonly request: (tick: () => void) => number;
  readonly cancel: (id: number) => void;
}

export const SCREEN: ScreenClock = {
  now: () => performance.now(),
  request: (tick) => requestAnimationFrame(tick),
  cancel: (id) => cancelAnimationFrame(id),
};

/** Between two snapshots while it plays or loads, in milliseconds: a page need not be drawn for every frame. */
const SNAPSHOT_MS = 200;
/** Places that are looked ahead at most, whatever the budget. */
const MOST_AHEAD = 3_000;
/** Places whose pictures are counted. */
const MOST_COUNTED = 20_000;
/** While it plays, what is read ahead is told anew once this part of it has been shown. */
const AHEAD_PARTS = 16;

export class Player {
  readonly #memory: FrameMemory;
  readonly #clock: ScreenClock;
  readonly #events: PlayerEvents;
  readonly #listeners = new Set<() => void>();
  #reel: Reel;
  #settings: PlaySettings;
  #found: ReelPictures;
  /** Places that are played, in order: all of the range, or those that have a picture. */
  #places: readonly number[] = [];
  /** How many of them have a picture; null: not counted. */
  #pictures: number | null = null;
  /** Places that are read ahead, in the order of need. */
  #ahead: readonly number[] = [];
  /** Pictures shown since it was last told what to read ahead, and what the budget had room for then. */
  #sinceAhead = 0;
  /** The memory is being told. */
  #isTelling = false;
  #fitted = 0;
  /** Beat that is due now, whether or not its place is shown. */
  #dueBeat = 0;
  /** Pictures come slower than they are due. */
  #isLate = false;
  #place: number;
  #direction: 0 | Direction = 0;
  #from = 0;
  #beganMs = 0;
  #beat = -1;
  #shown = 0;
  #dropped = 0;
  #secondMs = 0;
  #inSecond = 0;
  #rate: number | null = null;
  #request: number | null = null;
  /** Addresses of what is looked at. */
  readonly #onShowNow = new Set<string>();
  #told: ReturnType<typeof setTimeout> | null = null;
  #snapshot: PlayerSnapshot;

  constructor(
    source: PictureSource,
    reel: Reel,
    settings: PlaySettings,
    place: number,
    events: PlayerEvents,
    clock: ScreenClock = SCREEN,
  ) {
    this.#clock = clock;
    this.#events = events;
    this.#reel = reel;
    this.#settings = settings;
    this.#found = this.#find();
    this.#place = place;
    this.#memory = new FrameMemory(source, settings.budget, (url) => this.#changed(url), clock.now);
    this.#setPlaces();
    this.#snapshot = this.#look();
    this.#readAhead();
    this.#show();
  }

  readonly subscribe = (listener: () => void): (() => void) => {
    this.#listeners.add(listener);
    return () => this.#listeners.delete(listener);
  };

  readonly snapshot = (): PlayerSnapshot => this.#snapshot;

  /** Another reel or other settings; what is in memory and still asked for stays. */
  set(reel: Reel, settings: PlaySettings): void {
    if (reel === this.#reel && settings === this.#settings) return;
    const number = reel === this.#reel ? null : this.#reel.numberAt(this.#place);
    const isMoved =
      settings.first !== this.#settings.first ||
      settings.last !== this.#settings.last ||
      settings.every !== this.#settings.every ||
      settings.ends !== this.#settings.ends ||
      settings.holdSeconds !== this.#settings.holdSeconds ||
      settings.missing !== this.#settings.missing ||
      settings.rate !== this.#settings.rate ||
      reel.count !== this.#reel.count;
    this.#reel = reel;
    this.#settings = settings;
    this.#found = this.#find();
    this.#memory.budget = settings.budget;
    this.#setPlaces();
    // The frame stays, whatever its place is now: frames come and go while somebody looks.
    const before = this.#place;
    if (number !== null) this.#place = this.#inside(reel.placeOf(number));
    // From where it is, so that nothing jumps.
    if ((isMoved || this.#place !== before) && this.#direction !== 0) this.#begin(this.#direction);
    this.#readAhead();
    if (this.#direction === 0) this.#show();
    if (this.#place === before) return this.#tell();
    this.#tellNow();
    const isOther = number !== null && reel.numberAt(this.#place) !== number;
    if (isOther && this.#direction === 0) this.#events.onStand(this.#place, false);
  }

  /** From the present place on; a click while it plays turns it round. */
  play(direction: Direction): void {
    this.#shown = 0;
    this.#dropped = 0;
    this.#begin(direction);
    this.#readAhead();
    this.#tick();
    this.#tellNow();
  }

  stop(): void {
    if (this.#direction === 0) return;
    this.#direction = 0;
    this.#rate = null;
    if (this.#request !== null) this.#clock.cancel(this.#request);
    this.#request = null;
    this.#readAhead();
    this.#show();
    this.#tellNow();
    this.#events.onStand(this.#place, false);
  }

  /** Stops, and stands there. */
  goTo(place: number): void {
    const before = this.#place;
    this.#place = this.#inside(place);
    if (this.#direction !== 0) return this.stop();
    this.#readAhead();
    this.#show();
    this.#tellNow();
    if (this.#place !== before) this.#events.onStand(this.#place, true);
  }

  /** Shows the present place once more: the canvas is new. */
  showAgain(): void {
    this.#show();
  }

  /** Gives the memory back. */
  close(): void {
    if (this.#request !== null) this.#clock.cancel(this.#request);
    if (this.#told !== null) clearTimeout(this.#told);
    this.#memory.close();
    this.#listeners.clear();
  }

  #find(): ReelPictures {
    const { first, missing, over } = this.#settings;
    return new ReelPictures(this.#reel, first, missing, over);
  }

  #inside(place: number): number {
    return Math.max(0, Math.min(this.#reel.count - 1, place));
  }

  #setPlaces(): void {
    const { first, last, missing } = this.#settings;
    const all = (): readonly number[] =>
      Array.from({ length: Math.max(0, last - first + 1) }, (_, i) => first + i);
    this.#places = missing === "skip" ? filledPlaces(this.#reel, first, last) : all();
    // Frames arrive while one looks: a long reel is not counted anew for each.
    this.#pictures =
      this.#places.length > MOST_COUNTED
        ? null
        : this.#places.filter((place) => this.#found.at(place)[0] !== null).length;
  }

  /** In numbers of `#places`. */
  #round(): PlayRound {
    const { every, ends, holdSeconds, rate } = this.#settings;
    return {
      first: 0,
      last: Math.max(0, this.#places.length - 1),
      every,
      ends,
      holdBeats: Math.round((holdSeconds * rate.numerator) / (rate.denominator * every)),
    };
  }

  /** The number in `#places` of the nearest one at or before a place. */
  #indexOf(place: number): number {
    return Math.max(
      0,
      lastAtOrBelow(this.#places.length, (index) => this.#places[index]!, place),
    );
  }

  #begin(direction: Direction): void {
    this.#direction = direction;
    this.#from = this.#indexOf(this.#place);
    this.#beganMs = this.#clock.now();
    this.#beat = -1;
    this.#dueBeat = 0;
    this.#isLate = false;
    this.#secondMs = this.#beganMs;
    this.#inSecond = 0;
    this.#rate = null;
  }

  readonly #tick = (): void => {
    this.#request = null;
    if (this.#direction === 0 || this.#places.length === 0) return;
    const now = this.#clock.now();
    const { rate, every } = this.#settings;
    const beat = beatAt((now - this.#beganMs) / 1000, rate, every);
    if (beat !== this.#beat && !this.#due(beat, now)) return;
    if (now - this.#secondMs >= 1000) {
      this.#rate = (this.#inSecond * 1000) / (now - this.#secondMs);
      this.#inSecond = 0;
      this.#secondMs = now;
    }
    this.#request = this.#clock.request(this.#tick);
  };

  /** @returns false when playing is over */
  #due(beat: number, now: number): boolean {
    const { place: index, isOver } = placeAtBeat(
      this.#round(),
      this.#from,
      this.#direction as Direction,
      beat,
    );
    if (isOver) {
      this.stop();
      return false;
    }
    const place = this.#places[index]!;
    this.#dueBeat = beat;
    if (!this.#isReady(place)) {
      // The clock begins with the first picture.
      if (this.#beat < 0) this.#beganMs = now;
      else if (!this.#isLate) {
        this.#isLate = true;
        this.#readAhead();
      }
      return true;
    }
    this.#dropped += beat - this.#beat - 1;
    this.#shown++;
    this.#inSecond++;
    this.#beat = beat;
    this.#place = place;
    this.#show();
    if (++this.#sinceAhead * AHEAD_PARTS >= this.#ahead.length) this.#readAhead();
    this.#tell();
    return true;
  }

  /** Everything that will ever be shown of a place in motion is there. */
  #isReady(place: number): boolean {
    return this.#found.at(place).every((found) => found === null || this.#memory.has(found.moving));
  }

  #show(): void {
    const place = this.#place;
    this.#onShowNow.clear();
    const layers = this.#found.at(place).map((found): ShownPicture => {
      if (found === null) return { pixels: null, why: null, place, isMissing: true };
      this.#onShowNow.add(found.whole).add(found.moving);
      // Whole where it stands, as soon as it is there.
      const whole = this.#direction === 0 ? this.#memory.get(found.whole) : null;
      const kept = whole ?? this.#memory.get(found.moving);
      return {
        pixels: kept?.state === "loaded" ? kept.pixels : null,
        why: kept?.state === "failed" ? kept.why : null,
        place: found.place,
        isMissing: false,
      };
    });
    this.#events.onShow({ place, direction: this.#direction, layers });
  }

  /** Beats until a picture that is asked for now can be there. */
  #lead(): number {
    const { rate, every } = this.#settings;
    return beatAt(this.#memory.loadMs / 1000, rate, every) + 1;
  }

  /** Places in the order of need, from the one that is shown or due now. */
  #coming(): readonly number[] {
    if (this.#places.length === 0) return [];
    const round = this.#round();
    const way = this.#direction || 1;
    const from =
      this.#direction === 0
        ? this.#indexOf(this.#place)
        : placeAtBeat(round, this.#from, way, this.#dueBeat).place;
    const most = Math.min(MOST_AHEAD, Math.ceil(this.#fitted / this.#reel.layers) + 1);
    const coming = comingPlaces(round, from, way, most).map((index) => this.#places[index]!);
    if (!this.#isLate) return coming;
    // What is due before it could be there would always come too late.
    const lead = this.#lead();
    const soon = coming.slice(0, lead);
    this.#isLate = !soon.every((place) => this.#isReady(place));
    return [...coming.slice(lead), ...soon];
  }

  #readAhead(): void {
    // What goes to make room is told as a change, too.
    if (this.#isTelling) return;
    this.#isTelling = true;
    this.#sinceAhead = 0;
    this.#fitted = this.#memory.fits;
    this.#ahead = this.#coming();
    const standing = this.#direction === 0 ? this.#found.at(this.#place) : [];
    this.#memory.want(
      standing.flatMap((found) => (found === null ? [] : [found.whole])),
      this.#ahead.flatMap((place) => this.#found.at(place).flatMap((found) => found?.moving ?? [])),
    );
    this.#isTelling = false;
  }

  /** A picture was loaded, failed, or went: painted where it is on show, and not for each that is read ahead. */
  #changed(url: string): void {
    if (this.#direction === 0 && this.#onShowNow.has(url)) this.#show();
    // How large they are is known once one is there.
    if (this.#memory.fits !== this.#fitted || this.#isLate) this.#readAhead();
    this.#tell();
  }

  #look(): PlayerSnapshot {
    // What is not wanted any more goes: only what is to come can be there.
    const loaded = this.#ahead
      .filter((place) => this.#found.at(place)[0] !== null && this.#isReady(place))
      .sort((a, b) => a - b);
    return {
      place: this.#place,
      direction: this.#direction,
      shownRate: this.#rate,
      shown: this.#shown,
      dropped: this.#dropped,
      loaded,
      pictures: this.#pictures,
      isWindow: this.#memory.fits < (this.#pictures ?? this.#places.length) * this.#reel.layers,
      bytes: this.#memory.bytes,
    };
  }

  #tellNow(): void {
    if (this.#told !== null) clearTimeout(this.#told);
    this.#told = null;
    this.#snapshot = this.#look();
    for (const listener of this.#listeners) listener();
  }

  #tell(): void {
    this.#told ??= setTimeout(() => this.#tellNow(), SNAPSHOT_MS);
  }
}
