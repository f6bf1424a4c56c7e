/**
 * A picture in a few hundred blocks: the mean of each, by which frames of a shot are compared again and again
 * without their files being opened again.
 */

/** Blocks across; down, as many as make them about square. */
const COLUMNS = 32;
const LEAST_ROWS = 4;
const MOST_ROWS = 64;

export interface Sketch {
  readonly columns: number;
  readonly rows: number;
  /** Red, green, blue of each block, from the upper left in rows; 0 to 65,535 of what is shown. */
  readonly values: Uint16Array;
}

/** x, y, width, height in pixels, from the upper left. */
export type Region = readonly [x: number, y: number, width: number, height: number];

/** How many blocks a picture has. Pictures of fewer pixels have fewer. */
export const gridOf = (
  width: number,
  height: number,
): { readonly columns: number; readonly rows: number } => {
  const columns = Math.min(COLUMNS, width);
  return {
    columns,
    rows: Math.min(
      height,
      Math.max(LEAST_ROWS, Math.min(MOST_ROWS, Math.round((columns * height) / Math.max(1, width)))),
    ),
  };
};

/** Where each of so many parts of a side begins, and where the last ends. */
export const edgesOf = (side: number, parts: number): Int32Array =>
  Int32Array.from({ length: parts + 1 }, (_, i) => Math.round((i * side) / parts));

/** The pixels that some blocks cover. @param blocks at least one */
export function regionOf(
  blocks: readonly number[],
  { columns, rows }: Pick<Sketch, "columns" | "rows">,
  width: number,
  height: number,
): Region {
  const [xs, ys] = [edgesOf(width, columns), edgesOf(height, rows)];
  let [left, top, right, bottom] = [columns, rows, 0, 0];
  for (const block of blocks) {
    const [x, y] = [block % columns, Math.floor(block / columns)];
    left = Math.min(left, x);
    right = Math.max(right, x);
    top = Math.min(top, y);
    bottom = Math.max(bottom, y);
  }
  return [xs[left]!, ys[top]!, xs[right + 1]! - xs[left]!, ys[bottom + 1]! - ys[top]!];
}
