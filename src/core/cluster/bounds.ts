/** The largest index of an array that any batch system of this kind knows; one that says more is not believed. */
export const LARGEST_ARRAY = 4_000_000;
