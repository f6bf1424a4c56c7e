/** One of the team's presets: another name, or gone. */
import { checkRenamePreset } from "@/contract/bodies";
import { idOf, readBody, respond, whoOf } from "@/server/http/respond";
import { changePresetName, removePreset } from "@/server/actions/presets";

/**
 * Body: the new name. Plans that were filled from the preset keep their settings.
 * @throws `preset-name-taken`, and where there is no such preset any more
 */
export async function POST(
  request: Request,
  { params }: { params: Promise<{ id: string }> },
): Promise<Response> {
  const { id } = await params;
  return respond(async () =>
    changePresetName(idOf(id), (await readBody(request, checkRenamePreset)).name, whoOf(request)),
  );
}

/** Body: none. Shipped presets have no id here and cannot be removed. */
export async function DELETE(
  _request: Request,
  { params }: { params: Promise<{ id: string }> },
): Promise<Response> {
  const { id } = await params;
  return respond(() => removePreset(idOf(id)));
}
