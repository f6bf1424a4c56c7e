import { readVersionName } from "@/core/plan/plan";
import { TallyError } from "@/server/errors";
import { nameOf, respond } from "@/server/http/respond";
import { viewShot } from "@/server/views/shot";

export const dynamic = "force-dynamic";

export async function GET(
  request: Request,
  { params }: { params: Promise<{ project: string; code: string }> },
): Promise<Response> {
  const query = new URL(request.url).searchParams;
  const name = nameOf(await params);
  return respond(async () => {
    const wanted = query.get("version");
    const version = wanted === null ? null : readVersionName(wanted);
    if (wanted !== null && version === null)
      throw new TallyError("address-wrong", {
        message: `"${wanted}" is no version; write v001 or rough001.`,
      });
    return viewShot(name, { version, camera: query.get("camera"), pass: query.get("pass") });
  });
}
