/** The batch system that runs may be sent to. */
import { respond } from "@/server/http/respond";
import { viewCluster } from "@/server/actions/send-run";

export const dynamic = "force-dynamic";

/** Answers a ClusterView: whether one is named in the configuration, and which machines it gives out together. */
export async function GET(): Promise<Response> {
  return respond(viewCluster);
}
