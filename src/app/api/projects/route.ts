import { respond } from "@/server/http/respond";
import { viewProjects } from "@/server/views/shots";

export const dynamic = "force-dynamic";

export const GET = (): Promise<Response> => respond(viewProjects);
