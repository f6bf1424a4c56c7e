/** All nodes and what they do. */
import { respond } from "@/server/http/respond";
import { viewNodes } from "@/server/views/nodes";

/**
 * Answers a NodesView: every node that ever registered, what it does, and what keeps it from taking frames.
 */
export async function GET(): Promise<Response> {
  return respond(viewNodes);
}
