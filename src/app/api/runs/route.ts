/** Runs over all shots. */
import { checkChangeRuns } from "@/contract/runs-view";
import { changeRuns } from "@/server/actions/change-runs";
import { readBody, respond, whoOf } from "@/server/http/respond";
import { viewHouseRuns } from "@/server/views/house-runs";

export const dynamic = "force-dynamic";

/** Answers a HouseRunsView. */
export function GET(): Promise<Response> {
  return respond(viewHouseRuns);
}

/** Body: which runs, and what is done to each. Answers those of which it could not be done, with the reason. */
export async function POST(request: Request): Promise<Response> {
  return respond(async () => changeRuns(await readBody(request, checkChangeRuns), whoOf(request)));
}
