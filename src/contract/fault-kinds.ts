/** What a fault is made of: its sentence, the HTTP status, the exit code of the command line, and where to look for the cause. */

/**
 * Where to look. What lies in `place` or `disk` costs a frame no try: it is what one node sees; nor does what a batch system
 * does of its own.
 */
export type Blame =
  /** What was asked is wrong, or not possible now. */
  | "call"
  /** The scene, the plan, or a file they name. */
  | "scene"
  /** Files and shares as one machine sees them. */
  | "place"
  /** No room. */
  | "disk"
  /** The program that renders, or the frame that it was given. */
  | "renderer"
  /** A batch system, which took the machine away. */
  | "cluster"
  /** Our own house: database, configuration, another process. */
  | "house";

export interface FaultKind {
  readonly status: number;
  readonly exit: 1 | 2 | 3;
  readonly blame: Blame;
  readonly say: (facts: never) => string;
}

export type Say<F> = (facts: F) => string;
export const kind =
  (status: number, exit: 1 | 2 | 3, blame: Blame) =>
  <F = void>(say: string | Say<F>) => ({
    status,
    exit,
    blame,
    say: (typeof say === "string" ? () => say : say) as Say<F>,
  });

export const unknown = kind(404, 2, "call");
export const conflict = kind(409, 2, "call");
export const wrong = kind(422, 2, "call");
/** Something is the matter with scene or plan. */
export const scene = kind(422, 1, "scene");
export const place = kind(422, 1, "place");
/** A folder that may be back at any moment. */
export const outOfSight = {
  ...place<{ folder: string; why: string }>(
    ({ folder, why }) =>
      `The folder ${folder} cannot be seen now (${why}). Nothing is forgotten, and all goes on by itself when it is back.`,
  ),
  status: 503,
};
/** A frame whose renderer did not do its work. */
export const render = kind(422, 1, "renderer");
/** A frame whose machine a batch system took away. */
export const takenAway = kind(422, 1, "cluster");
export const house = kind(503, 3, "house");
