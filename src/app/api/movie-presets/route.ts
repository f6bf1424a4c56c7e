/** Settings of movies that the house keeps: all of them, and one more. */
import { checkMoviePreset, movieOf } from "@/contract/handover";
import { pool } from "@/server/db/pool";
import { keepMoviePreset } from "@/server/handover/movie-presets";
import { readBody, respond, whoOf } from "@/server/http/respond";
import { listMoviePresets } from "@/server/store/movie-presets";

export const dynamic = "force-dynamic";

/** Answers MoviePresetViews by name, without those that ship. */
export const GET = (): Promise<Response> => respond(() => listMoviePresets(pool()));

/** Body: a name and settings; one of that name is replaced. @throws `preset-name-taken` by one that ships */
export async function POST(request: Request): Promise<Response> {
  return respond(async () => {
    const { name, movie } = await readBody(request, checkMoviePreset);
    await keepMoviePreset(name, movieOf(movie), whoOf(request));
  });
}
