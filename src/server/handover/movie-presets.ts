/** Settings of movies that somebody keeps under a name. */
import type { Who } from "@/contract/who";
import { wishOf } from "@/contract/handover";
import { type MovieSettings, PRESET_FACTS } from "@/core/handover/wish";
import { pool } from "../db/pool";
import { TallyError } from "../errors";
import { deleteMoviePreset, saveMoviePreset } from "../store/movie-presets";
import { requirePossible } from "./create";

/** Names that ship: `phone` on the command line, `for a phone` on the page. */
const SHIPPED = new Set(Object.entries(PRESET_FACTS).flatMap(([key, { word }]) => [key, word]));

/**
 * What names a sequence is left out: it would be another project's, or gone.
 * @throws TallyError `preset-name-taken` by one that ships, `handover-wrong`
 */
export async function keepMoviePreset(name: string, movie: MovieSettings, who: Who): Promise<void> {
  const wanted = name.trim();
  if (wanted === "" || SHIPPED.has(wanted.toLowerCase()))
    throw new TallyError("preset-name-taken", { name: wanted }).at("name", "This name is taken.");
  const kept: MovieSettings = {
    ...movie,
    beside: null,
    behind: movie.behind.kind === "sequence" ? { kind: "colour", colour: [0, 0, 0] } : movie.behind,
  };
  requirePossible(wishOf({ as: "movie", movie: kept }));
  await saveMoviePreset(pool(), wanted, kept, who);
}

/** @throws TallyError `preset-unknown` */
export async function forgetMoviePreset(id: number): Promise<void> {
  if (!(await deleteMoviePreset(pool(), id))) throw new TallyError("preset-unknown");
}
