/** Presets of movies by the names that a command is given. */
import { movieOf } from "@/contract/handover";
import { MOVIE_PRESETS, type MovieSettings, PRESET_FACTS } from "@/core/handover/wish";
import { pool } from "@/server/db/pool";
import { listMoviePresets } from "@/server/store/movie-presets";
import { CallWrong } from "./command";

/**
 * One that ships, or one that the house keeps.
 * @param option that names it; @param others what may stand there besides
 * @throws CallWrong, with the names of all
 */
export async function presetOf(
  option: string,
  name: string,
  others: readonly string[] = [],
): Promise<MovieSettings> {
  const shipped = MOVIE_PRESETS.find((known) => known === name);
  if (shipped !== undefined) return movieOf(PRESET_FACTS[shipped].sets);
  const kept = await listMoviePresets(pool());
  const found = kept.find((preset) => preset.name === name);
  if (found === undefined)
    throw new CallWrong(
      `${option} must be ${[...MOVIE_PRESETS, ...kept.map((preset) => preset.name), ...others].join(", ")}; it is "${name}"`,
    );
  return found.movie;
}
