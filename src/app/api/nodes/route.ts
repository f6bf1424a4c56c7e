import { respond } from "@/server/http/respond";
import { viewNodes } from "@/server/work/nodes";

export async function GET(): Promise<Response> {
  return respond(viewNodes);
}
