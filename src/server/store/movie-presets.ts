/**
 * Settings of movies that the house keeps under names. They are copied when they are used: changing or removing one
 * changes no handover.
 */
import type { MoviePresetView } from "@/contract/handover";
import type { Who } from "@/contract/who";
import { type MovieSettings, USUAL_MOVIE } from "@/core/handover/wish";
import { type Db, fromJson, rows, write } from "../db/rows";

/** By name. Settings that came later than a preset are as usual in it. */
export const listMoviePresets = async (db: Db): Promise<MoviePresetView[]> =>
  (
    await rows<{ id: number; name: string; movie: unknown }>(
      db,
      "SELECT id, name, movie FROM movie_preset ORDER BY name",
    )
  ).map(({ id, name, movie }) => ({
    id,
    name,
    movie: { ...USUAL_MOVIE, ...fromJson<Partial<MovieSettings>>(movie) },
  }));

/** Takes the place of one of that name. */
export async function saveMoviePreset(db: Db, name: string, movie: MovieSettings, who: Who): Promise<void> {
  await write(
    db,
    `INSERT INTO movie_preset (name, movie, who)
      VALUES (?, ?, ?)
      ON DUPLICATE KEY UPDATE movie = VALUE(movie), who = VALUE(who), changed_at = NOW(3)`,
    [name, JSON.stringify(movie), who],
  );
}

/** @returns false where there was no such preset */
export const deleteMoviePreset = async (db: Db, id: number): Promise<boolean> =>
  (await write(db, "DELETE FROM movie_preset WHERE id = ?", [id])).matched === 1;
