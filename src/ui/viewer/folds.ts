/** Lines of settings under the picture: each folds away, and what it says goes on. */
export const FOLDS = ["playing", "seeing", "comparing", "strip"] as const;
export type Fold = (typeof FOLDS)[number];
