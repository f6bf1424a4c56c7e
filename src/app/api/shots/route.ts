import { respond } from "@/server/http/respond";
import { viewShots } from "@/server/views/shots";

export const dynamic = "force-dynamic";

export const GET = (): Promise<Response> => respond(viewShots);
