/** How far off is odd in the sequence's shot. */
import { checkThresholds, type OddView } from "@/contract/odd-view";
import type { Thresholds } from "@/core/odd/odd";
import { setThresholds } from "@/server/actions/judge-odd";
import { idOf, readBody, respond } from "@/server/http/respond";
import { viewOdd } from "@/server/views/odd";

interface Context {
  readonly params: Promise<{ readonly id: string }>;
}

/** Sets them, and tells what is odd by them. */
async function set(id: number, thresholds: Thresholds | null): Promise<OddView> {
  await setThresholds(id, thresholds);
  return viewOdd(id);
}

/** Body: all of them. */
export async function POST(request: Request, { params }: Context): Promise<Response> {
  const { id } = await params;
  return respond(async () => set(idOf(id), await readBody(request, checkThresholds)));
}

/** As they are usual. */
export async function DELETE(_: Request, { params }: Context): Promise<Response> {
  const { id } = await params;
  return respond(() => set(idOf(id), null));
}
