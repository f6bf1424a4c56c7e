/** One of the team's presets: another name, or gone. */
import { checkRenamePreset } from "@/contract/bodies";
import { idOf, readBody, respond } from "@/server/http/respond";
import { changePresetName, removePreset } from "@/server/actions/presets";

export async function POST(
  request: Request,
  { params }: { params: Promise<{ id: string }> },
): Promise<Response> {
  const { id } = await params;
  return respond(async () => changePresetName(idOf(id), (await readBody(request, checkRenamePreset)).name));
}

export async function DELETE(
  _request: Request,
  { params }: { params: Promise<{ id: string }> },
): Promise<Response> {
  const { id } = await params;
  return respond(() => removePreset(idOf(id)));
}
