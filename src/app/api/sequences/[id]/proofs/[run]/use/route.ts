/** Proofs become frames of the sequence. */
import { idOf, respond } from "@/server/http/respond";
import { placeProofs } from "@/server/actions/proofs";

/**
 * Body: none. Takes those that are just what the saved plan would make, where no file is there; answers which, and
 * refuses where none fits.
 */
export async function POST(
  _request: Request,
  { params }: { params: Promise<{ id: string; run: string }> },
): Promise<Response> {
  const { id, run } = await params;
  return respond(() => placeProofs(idOf(id), idOf(run)));
}
