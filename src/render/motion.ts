/**
 * Where the motion of a scene ends: read from its keys, and seen in thumbnails.
 * Keys tell where values stop changing, which is quick and may be too late: a body may move out of sight.
 * Thumbnails tell what the camera sees, and cost a small rendering each.
 */
import { largest } from "@/core/many";
import { isKeyed, type Scene, type SceneBody } from "@/contract/scene";
import type { Animated } from "@/core/plan/lens";

/** Frame of the last key whose value differs from the one before; -Infinity for what never changes. */
function lastChange(value: Animated<number | readonly number[]> | undefined): number {
  if (value === undefined || !isKeyed(value as Animated<number>)) return -Infinity;
  const { keys } = value as { readonly keys: readonly { readonly frame: number; readonly value: unknown }[] };
  for (let i = keys.length - 1; i > 0; i--)
    if (JSON.stringify(keys[i]!.value) !== JSON.stringify(keys[i - 1]!.value)) return keys[i]!.frame;
  return -Infinity;
}

/** Scene frame from which nothing of it changes any more. */
const bodyChange = (body: SceneBody): number =>
  largest([
    lastChange(body.position),
    lastChange(body.rotation),
    lastChange(body.scale),
    ...(body.children ?? []).map(bodyChange),
  ]);

/**
 * Scene frame after which nothing changes, as the camera sees it; null where water ripples and never rests,
 * -Infinity where nothing ever moves.
 */
export function motionEnd(scene: Scene, cameraName: string): number | null {
  const materials = Object.values(scene.materials);
  if (
    materials.some(
      (m) => "ripples" in m && m.ripples !== undefined && m.ripples.speed !== 0 && m.ripples.height > 0,
    )
  )
    return null;
  const camera = scene.cameras.find((c) => c.name === cameraName);
  return largest([
    ...scene.bodies.map(bodyChange),
    ...materials.map((m) => (m.kind === "emitter" ? lastChange(m.strength) : -Infinity)),
    ...(camera === undefined
      ? []
      : [
          lastChange(camera.position),
          lastChange(camera.target),
          lastChange(camera.focalLength),
          lastChange(camera.lens?.fNumber),
          lastChange(camera.lens?.focusDistance),
        ]),
  ]);
}

/** What a thumbnail shows: a mark that is equal for equal pictures, and whether any body is in sight. */
export interface Glimpse {
  readonly mark: string;
  /** Nothing but sky. */
  readonly isEmpty: boolean;
}

export interface SweptMotion {
  /** Last frame whose picture differs from the last one's; null where even the last two differ. */
  readonly movesUntil: number | null;
  /** First frame of the empty stretch that reaches to the end; null where the end is not empty. */
  readonly emptyFrom: number | null;
}

/** Pictures that a sweep looks at before it narrows down, each time anew. */
const COARSE = 16;

/**
 * Finds both from pictures alone: backwards in coarse steps, then in ever finer ones in the gap, so that a million
 * frames cost some eighty pictures. Holds for what stays as it is to the end.
 */
export async function sweepMotion(
  first: number,
  last: number,
  glimpseAt: (frame: number) => Promise<Glimpse>,
): Promise<SweptMotion> {
  const end = await glimpseAt(last);
  const step = Math.max(1, Math.ceil((last - first) / COARSE));
  /** Last frame before the end for which `isLike` fails; first - 1 when it never does. */
  const lastUnlike = async (isLike: (glimpse: Glimpse) => boolean): Promise<number> => {
    let known = last;
    for (let stride = step; ; stride = Math.ceil(stride / COARSE)) {
      while (known > first && isLike(await glimpseAt(Math.max(first, known - stride))))
        known = Math.max(first, known - stride);
      if (known === first) return first - 1;
      if (stride === 1) return known - 1;
    }
  };
  const unlike = await lastUnlike((g) => g.mark === end.mark);
  const full = end.isEmpty ? await lastUnlike((g) => g.isEmpty) : null;
  return { movesUntil: unlike === last - 1 ? null : unlike, emptyFrom: full === null ? null : full + 1 };
}
