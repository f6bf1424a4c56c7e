/** Values over time, and the lens of a camera: also part of a plan, which may give a camera another lens. */

/** How a value goes from its key to the next one. */
export type Easing = "linear" | "smooth" | "hold";

export interface Key<V> {
  /** Of the scene. */
  readonly frame: number;
  readonly value: V;
  /** From this key to the next. */
  readonly ease?: Easing;
}

/** A constant, or keys in ascending order of frames. */
export type Animated<V> = V | { readonly keys: readonly Key<V>[] };

/** What a real lens does besides framing. */
export interface Lens {
  /** Focal length over the diameter of the opening: small numbers blur more. */
  readonly fNumber: Animated<number>;
  /** Metres from the camera to the plane that is sharp, along the view. */
  readonly focusDistance: Animated<number>;
}

/** A value over time as text: `2.8`, or frames with values, `1001:2, 1050:6`. */
export const animatedText = (value: Animated<number>): string =>
  typeof value === "number"
    ? Number.isNaN(value)
      ? ""
      : String(value)
    : value.keys.map((key) => `${key.frame}:${key.value}`).join(", ");

/**
 * Reads such a text; keys come out in the order of their frames, and go on smoothly. Null where it is
 * neither.
 */
export function readAnimated(text: string): Animated<number> | null {
  const number = "[+-]?\\d+(?:\\.\\d+)?";
  const parts = text.split(",").map((part) => part.trim());
  if (parts.length === 1 && new RegExp(`^${number}$`).test(parts[0]!)) return Number(parts[0]);
  const keys = parts
    .map((part) => new RegExp(`^(${number})\\s*:\\s*(${number})$`).exec(part))
    .map((match) => (match === null ? null : { frame: Number(match[1]), value: Number(match[2]) }));
  if (keys.some((key) => key === null)) return null;
  return { keys: (keys as { frame: number; value: number }[]).sort((a, b) => a.frame - b.frame) };
}
