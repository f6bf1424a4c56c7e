/**
 * A shot, with its plan and its frames in the first HTML. What the address wants and does not exist is told
 * by the page, in the place of the shot.
 */
import { readVersionName } from "@/core/plan/plan";
import { ShotPage } from "@/ui/shot-page/shot-page";
import { viewSequence } from "@/server/views/sequence";
import { viewShot } from "@/server/views/shot";
import { withData } from "../../../../with-data";
import { queryKeys } from "@/ui/live/query-keys";

export const dynamic = "force-dynamic";

type Query = Readonly<Record<string, string | string[] | undefined>>;

/** A parameter that is given twice is as good as none. */
const oneOf = (value: string | string[] | undefined): string | null =>
  typeof value === "string" ? value : null;

export default async function Page({
  params,
  searchParams,
}: {
  readonly params: Promise<{ project: string; code: string }>;
  readonly searchParams: Promise<Query>;
}) {
  const [{ project: rawProject, code: rawCode }, query] = await Promise.all([params, searchParams]);
  const name = { project: decodeURIComponent(rawProject), code: decodeURIComponent(rawCode) };
  const wanted = {
    version: oneOf(query.version),
    camera: oneOf(query.camera),
    pass: oneOf(query.pass),
  };
  const version = wanted.version === null ? null : readVersionName(wanted.version);
  // A version that cannot be read is told by the page's own question.
  const shot =
    wanted.version !== null && version === null
      ? undefined
      : await viewShot(`${name.project}/${name.code}`, { ...wanted, version }).catch(() => undefined);
  const [page] = await withData<unknown>(
    shot === undefined
      ? []
      : [
          { key: queryKeys.wantedShot(name, wanted), read: () => Promise.resolve(shot) },
          { key: queryKeys.sequence(shot.sequence.id), read: () => viewSequence(shot.sequence.id) },
        ],
    <ShotPage {...name} />,
  );
  return page;
}
