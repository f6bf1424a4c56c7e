/**
 * Whether the server answers at all. It asks nothing of the database: what is wrong there is told by the
 * pages.
 */
export const dynamic = "force-dynamic";

/** Answers `{ ok: true }`, without a look at anything. */
export const GET = (): Response => Response.json({ ok: true });
