import { respond } from "@/server/http/respond";
import { viewSettings } from "@/server/views/settings";

export const dynamic = "force-dynamic";

/** Answers a SettingsView. What can be changed of it is changed on the server's own machine. */
export function GET(): Promise<Response> {
  return respond(viewSettings);
}
