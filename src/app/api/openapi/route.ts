/** The HTTP interface, described for programs. */
import { openApi } from "@/contract/openapi";
import { respond } from "@/server/http/respond";
import { installation } from "@/server/installation";

/** Answers an OpenAPI 3.1 document. */
export async function GET(): Promise<Response> {
  return respond(() => Promise.resolve(openApi(installation().version)));
}
