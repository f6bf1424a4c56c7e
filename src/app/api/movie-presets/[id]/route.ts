/** One of the kept settings of movies. */
import { forgetMoviePreset } from "@/server/handover/movie-presets";
import { idOf, respond } from "@/server/http/respond";

/** @throws `preset-unknown` */
export async function DELETE(
  _request: Request,
  { params }: { params: Promise<{ id: string }> },
): Promise<Response> {
  const { id } = await params;
  return respond(() => forgetMoviePreset(idOf(id)));
}
