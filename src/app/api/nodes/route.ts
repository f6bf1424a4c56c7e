/** All nodes and what they do. */
import { respond } from "@/server/http/respond";
import { viewNodes } from "@/server/views/nodes";

export async function GET(): Promise<Response> {
  return respond(viewNodes);
}
