/**
 * Irradiance cache (Ward, Rubinstein and Clear 1988): the light that comes to diffuse surfaces over
 * other surfaces is gathered at scattered points, and read between them. It changes slowly over a
 * surface, costs most of a path, and flickers when every frame gathers its own: so it is gathered
 * once at every n-th frame, and a frame between two of those reads both in proportion.
 *
 * A point's value is sum(w E) / sum(w) over the records with w = 1 / (d / R + sqrt(1 - n.n')) above
 * 1 / ERROR: d the distance, R the harmonic mean distance of what the record sees. Where no record
 * reaches, nothing is given, and the path goes on as without a cache.
 *
 * Records, one after the other: position (3), normal (3), light (3, irradiance over pi), R (1).
 */
export const RECORD = 10;
const NORMAL = 3,
  LIGHT = 6,
  RADIUS = 9;

/** How far off a value may be: smaller asks for more records. */
const ERROR = 0.6;
/** A record reaches at most so many cells of the grid to each side. */
const REACH_CELLS = 3;

/** Cells that share a number only make a longer list: distance decides (Teschner and others 2003). */
const keyOf = (x: number, y: number, z: number): number =>
  (Math.imul(x, 73_856_093) ^ Math.imul(y, 19_349_663) ^ Math.imul(z, 83_492_791)) >>> 0;

/** Light at one point, read again and again by an integrator. */
export interface LightLookup {
  /** What was found last. */
  readonly light: Float64Array;
  find(px: number, py: number, pz: number, nx: number, ny: number, nz: number): boolean;
}

/**
 * Records in a grid of cells as wide as the middle reach. A record is entered into every cell that it reaches,
 * so that a lookup asks one.
 */
export class LightRecords implements LightLookup {
  readonly records: Float32Array;
  readonly light = new Float64Array(3);
  readonly #cell: number;
  readonly #cells = new Map<number, Int32Array>();

  /** @param records RECORD numbers for each */
  constructor(records: Float32Array) {
    this.records = records;
    const radii = Float32Array.from(
      { length: records.length / RECORD },
      (_, i) => records[i * RECORD + RADIUS]!,
    ).sort();
    this.#cell = Math.max(1e-6, (radii[radii.length >> 1] ?? 1) * ERROR);
    const cells = new Map<number, number[]>();
    for (let at = 0; at < records.length; at += RECORD) {
      const reach = Math.min(records[at + RADIUS]! * ERROR, this.#cell * REACH_CELLS);
      const low = [0, 1, 2].map((c) => Math.floor((records[at + c]! - reach) / this.#cell));
      const high = [0, 1, 2].map((c) => Math.floor((records[at + c]! + reach) / this.#cell));
      for (let x = low[0]!; x <= high[0]!; x++)
        for (let y = low[1]!; y <= high[1]!; y++)
          for (let z = low[2]!; z <= high[2]!; z++) {
            const key = keyOf(x, y, z);
            const cell = cells.get(key);
            if (cell === undefined) cells.set(key, [at]);
            else cell.push(at);
          }
    }
    for (const [key, cell] of cells) this.#cells.set(key, Int32Array.from(cell));
  }

  /** False where no record is near enough. */
  find(px: number, py: number, pz: number, nx: number, ny: number, nz: number): boolean {
    const { records, light } = this;
    const near = this.#cells.get(
      keyOf(Math.floor(px / this.#cell), Math.floor(py / this.#cell), Math.floor(pz / this.#cell)),
    );
    light[0] = light[1] = light[2] = 0;
    if (near === undefined) return false;
    let sum = 0;
    for (const at of near) {
      const dx = px - records[at]!,
        dy = py - records[at + 1]!,
        dz = pz - records[at + 2]!;
      const reach = records[at + RADIUS]! * ERROR;
      const square = dx * dx + dy * dy + dz * dz;
      if (square >= reach * reach) continue;
      const facing =
        nx * records[at + NORMAL]! + ny * records[at + NORMAL + 1]! + nz * records[at + NORMAL + 2]!;
      const off = Math.sqrt(square) / records[at + RADIUS]! + Math.sqrt(Math.max(0, 1 - facing));
      if (off >= ERROR) continue;
      // Falls to nothing where the record's reach ends, so that no edge shows.
      const w = 1 / Math.max(off, 1e-3) - 1 / ERROR;
      sum += w;
      for (let c = 0; c < 3; c++) light[c]! += w * records[at + LIGHT + c]!;
    }
    if (sum === 0) return false;
    for (let c = 0; c < 3; c++) light[c]! /= sum;
    return true;
  }
}

/** Two caches around a frame, in proportion; where only one reaches, that one. */
export class BlendedLight implements LightLookup {
  readonly light = new Float64Array(3);
  readonly #before: LightRecords;
  readonly #after: LightRecords;
  readonly #share: number;

  /** @param share of the later one, 0 to 1 */
  constructor(before: LightRecords, after: LightRecords, share: number) {
    this.#before = before;
    this.#after = after;
    this.#share = share;
  }

  find(px: number, py: number, pz: number, nx: number, ny: number, nz: number): boolean {
    const a = this.#share < 1 && this.#before.find(px, py, pz, nx, ny, nz);
    const b = this.#share > 0 && this.#after.find(px, py, pz, nx, ny, nz);
    if (!a && !b) return false;
    const share = !a ? 1 : !b ? 0 : this.#share;
    for (let c = 0; c < 3; c++)
      this.light[c] = (1 - share) * this.#before.light[c]! + share * this.#after.light[c]!;
    return true;
  }
}
