/**
 * The pictures of a reel as the player asks for them: what is shown at a place, and under which address in which size.
 * Each address is made once, as the same places are asked for many times a second.
 */
import type { Reduction } from "@/contract/viewer-picture";
import { type MissingWay, pictureAt, type Reel } from "./reel";

export interface ReelPicture {
  /** The place that it is of: another one where it stands in for a missing one. */
  readonly place: number;
  /** Address in full size. */
  readonly whole: string;
  /** Address in the size of motion. */
  readonly moving: string;
}

const withForm = (address: string, over: Reduction): string => `${address}&as=pixels&over=${over}`;

export class ReelPictures {
  readonly #reel: Reel;
  readonly #first: number;
  readonly #missing: MissingWay;
  readonly #over: Reduction;
  readonly #known = new Map<number, readonly (ReelPicture | null)[]>();

  /** @param first of the range: a missing frame is stood in for by none before it @param over of pictures in motion */
  constructor(reel: Reel, first: number, missing: MissingWay, over: Reduction) {
    this.#reel = reel;
    this.#first = first;
    this.#missing = missing;
    this.#over = over;
  }

  /** One for each layer; null where there is no picture. */
  at(place: number): readonly (ReelPicture | null)[] {
    const known = this.#known.get(place);
    if (known !== undefined) return known;
    const made = Array.from({ length: this.#reel.layers }, (_, layer) => this.#make(place, layer));
    this.#known.set(place, made);
    return made;
  }

  #make(place: number, layer: number): ReelPicture | null {
    if (place >= this.#reel.count) return null;
    const found = pictureAt(this.#reel, place, layer, this.#first, this.#missing);
    if (found === null) return null;
    const { address } = found;
    return { place: found.place, whole: withForm(address, 1), moving: withForm(address, this.#over) };
  }
}
