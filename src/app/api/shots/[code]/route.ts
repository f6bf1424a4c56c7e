import { readVersionName } from "@/core/plan/plan";
import { TallyError } from "@/server/errors";
import { respond } from "@/server/http/respond";
import { viewShot } from "@/server/views/shot";

export const dynamic = "force-dynamic";

export async function GET(
  request: Request,
  { params }: { params: Promise<{ code: string }> },
): Promise<Response> {
  const query = new URL(request.url).searchParams;
  const { code } = await params;
  return respond(async () => {
    const wanted = query.get("version");
    const version = wanted === null ? null : readVersionName(wanted);
    if (wanted !== null && version === null)
      throw new TallyError("address-wrong", {
        message: `"${wanted}" is no version; write v001 or rough001.`,
      });
    return viewShot(code, { version, camera: query.get("camera"), pass: query.get("pass") });
  });
}
