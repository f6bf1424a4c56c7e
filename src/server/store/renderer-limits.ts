/** How many frames of a renderer may be in work at once, over all nodes: as many as there are licences. */
import { STAND_IN } from "@/core/plan/renderer";
import type { RendererLimit } from "@/core/run/standstill";
import { type Db, row, rows, write } from "../db/rows";

const PREFIX = "at-once:";

/** By renderer; those without a limit are not in it. */
export async function rendererLimits(db: Db): Promise<ReadonlyMap<string, number>> {
  const found = await rows<{ name: string; value: string }>(
    db,
    "SELECT name, value FROM setting WHERE name LIKE 'at-once:%'",
  );
  return new Map(found.map(({ name, value }) => [name.slice(PREFIX.length), Number(value)]));
}

/** @param most null: as many as nodes take */
export async function saveRendererLimit(db: Db, renderer: string, most: number | null): Promise<void> {
  const name = PREFIX + renderer;
  if (most === null) await write(db, "DELETE FROM setting WHERE name = ?", [name]);
  else await write(db, "REPLACE INTO setting (name, value) VALUES (?, ?)", [name, String(most)]);
}

/**
 * Locks the limit of a renderer, so that of two nodes that ask at one moment the second counts what the first has leased.
 * @returns null where there is none any more
 */
export async function lockRendererLimit(db: Db, renderer: string): Promise<number | null> {
  const found = await row<{ value: string }>(db, "SELECT value FROM setting WHERE name = ? FOR UPDATE", [
    PREFIX + renderer,
  ]);
  return found === null ? null : Number(found.value);
}

/** Of which renderer the frames of a run `r` are: what a proof tries goes before what its revision says. */
export const RENDERER_OF_RUN = `COALESCE(JSON_VALUE(r.plan, '$.renderer'),
    (SELECT JSON_VALUE(e.plan, '$.renderer')
      FROM run_version v
      JOIN plan_revision e ON e.id = v.revision_id
      WHERE v.run_id = r.id
      ORDER BY v.version_id
      LIMIT 1), '${STAND_IN}')`;

/** Null: of its renderer as many as nodes take. */
export async function limitOfRun(db: Db, runId: number): Promise<RendererLimit | null> {
  const found = await row<{ renderer: string; value: string }>(
    db,
    `SELECT x.renderer, s.value
      FROM (SELECT ${RENDERER_OF_RUN} AS renderer FROM run r WHERE r.id = ?) x
      JOIN setting s ON s.name = CONCAT('${PREFIX}', x.renderer)`,
    [runId],
  );
  return found === null
    ? null
    : {
        renderer: found.renderer,
        atOnce: Number(found.value),
        inWork: await framesInWork(db, found.renderer),
      };
}

/** Frames of a renderer that nodes have in work: a lease that has run out is nobody's. */
export const framesInWork = async (db: Db, renderer: string): Promise<number> =>
  Number(
    (await row<{ n: number }>(
      db,
      `SELECT COUNT(*) AS n
        FROM task t
        JOIN run r ON r.id = t.run_id
        WHERE t.state = 'leased' AND t.lease_until > NOW(6) AND ${RENDERER_OF_RUN} = ?`,
      [renderer],
    ))!.n,
  );
