/** What happened over all shots since somebody last looked. */
import { TallyError } from "@/server/errors";
import { respond } from "@/server/http/respond";
import { readSince, viewNews } from "@/server/views/news";

export const dynamic = "force-dynamic";

/** Query: since, ISO 8601. Answers a NewsView. @throws `address-wrong` */
export async function GET(request: Request): Promise<Response> {
  return respond(() => {
    const text = new URL(request.url).searchParams.get("since") ?? "";
    const since = readSince(text);
    if (since === null)
      throw new TallyError("address-wrong", {
        message: "since must be a time such as 2026-11-30T20:00:00Z.",
      });
    return viewNews(since);
  });
}
