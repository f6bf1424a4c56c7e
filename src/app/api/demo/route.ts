/** The film that comes along, for whoever wants to look around before there is work of their own. */
import { seed } from "@/demo/seed";
import { PROJECT } from "@/demo/project";
import { respond } from "@/server/http/respond";

/** Makes it, or makes it whole; its runs are for whatever node there is. Answers the name of its project. */
export const POST = (): Promise<Response> =>
  respond(async () => {
    await seed({ hasItsNodes: false });
    return { slug: PROJECT.slug };
  });
