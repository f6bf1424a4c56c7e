/** Which projects there are. */
import { respond } from "@/server/http/respond";
import { viewProjects } from "@/server/views/shots";

export const dynamic = "force-dynamic";

/** Answers a ProjectsView, in the order in which they were made. */
export const GET = (): Promise<Response> => respond(viewProjects);
