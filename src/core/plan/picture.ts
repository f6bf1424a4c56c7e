/**
 * Settings that decide how samples become pixels. Values, not code: the renderer gives them their meaning.
 */

export const FILTERS = ["box", "tent", "gaussian", "mitchell"] as const;
/** How samples around a pixel are weighed. */
export type FilterKind = (typeof FILTERS)[number];

export interface FilterSettings {
  readonly kind: FilterKind;
  /** Pixels from the middle to where the filter ends. */
  readonly radius: number;
}

/** Radius at which each filter does what it is known for. */
export const USUAL_RADIUS: Readonly<Record<FilterKind, number>> = {
  box: 0.5,
  tent: 1,
  gaussian: 1.5,
  mitchell: 2,
};

/**
 * `full` follows light from surface to surface, `direct` over one. The others have no light at all, for roughs
 * that are there at once: `flat` shows each surface in its own colour, `line` draws where one ends.
 */
export const SHADINGS = ["full", "direct", "flat", "line"] as const;
export type Shading = (typeof SHADINGS)[number];

/** Without light one surface tells nothing of another. */
export const isUnlit = (shading: Shading): boolean => shading === "flat" || shading === "line";

/**
 * Rounds over the whole picture can be stopped at any moment and go on with more samples later; a tile is
 * final.
 */
export const SAMPLINGS = ["rounds", "tiles"] as const;
/** In which way a picture is gone through. */
export type Sampling = (typeof SAMPLINGS)[number];

/** Width and height that are really rendered: full size times scale, each at least one pixel. */
export const scaledSize = (plan: {
  readonly width: number;
  readonly height: number;
  /** Percent of each side. */
  readonly scale: number;
}): { readonly width: number; readonly height: number } => ({
  width: Math.max(1, Math.round((plan.width * plan.scale) / 100)),
  height: Math.max(1, Math.round((plan.height * plan.scale) / 100)),
});
