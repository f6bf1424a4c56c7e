import { respond } from "@/server/http/respond";
import { viewShots } from "@/server/http/views";

export const dynamic = "force-dynamic";

export const GET = (): Promise<Response> => respond(viewShots);
