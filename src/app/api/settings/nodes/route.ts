import { respond } from "@/server/http/respond";
import { viewHouseSeen } from "@/server/views/settings";

export const dynamic = "force-dynamic";

/** Asks every node what it sees; answers a HouseSeenView once all have said it, or a few seconds have gone by. */
export function GET(): Promise<Response> {
  return respond(viewHouseSeen);
}
