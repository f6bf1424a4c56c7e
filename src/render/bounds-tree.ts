/**
 * A tree of boxes over the bodies, split at the middle of the longest side of their centres. Flat:
 * six numbers a node (min x y z, max x y z); a leaf holds one body; the left child follows its
 * parent, `skip` is where to go on when the box is missed.
 */
import { largest, least } from "@/core/many";
import type { Vec3 } from "@/contract/scene";

export interface Bounds {
  /** Metres. */
  readonly min: Vec3;
  readonly max: Vec3;
}

export interface BoundsTree {
  /** Six numbers a node. */
  readonly boxes: Float64Array;
  /** Body of a leaf, -1 for an inner node. */
  readonly body: Int32Array;
  /** Node to go on with when the box is missed. */
  readonly skip: Int32Array;
}

interface Item {
  /** Of the body. */
  readonly index: number;
  readonly bounds: Bounds;
}

/** Built once a frame: bodies move, and the boxes hold all that they do while the shutter is open. */
export function buildTree(items: readonly Item[]): BoundsTree {
  const boxes: number[] = [];
  const body: number[] = [];
  const skip: number[] = [];
  const build = (part: Item[]): void => {
    const node = body.length;
    for (const side of [0, 1, 2]) boxes.push(least(part.map((p) => p.bounds.min[side]!)));
    for (const side of [0, 1, 2]) boxes.push(largest(part.map((p) => p.bounds.max[side]!)));
    body.push(part.length === 1 ? part[0]!.index : -1);
    skip.push(0);
    if (part.length > 1) {
      const centre = (p: Item, side: number): number => p.bounds.min[side]! + p.bounds.max[side]!;
      const spread = [0, 1, 2].map(
        (side) => largest(part.map((p) => centre(p, side))) - least(part.map((p) => centre(p, side))),
      );
      const side = spread.indexOf(largest(spread));
      const sorted = [...part].sort((a, b) => centre(a, side) - centre(b, side) || a.index - b.index);
      const half = sorted.length >> 1;
      build(sorted.slice(0, half));
      build(sorted.slice(half));
    }
    skip[node] = body.length;
  };
  if (items.length > 0) build([...items]);
  return { boxes: Float64Array.from(boxes), body: Int32Array.from(body), skip: Int32Array.from(skip) };
}
