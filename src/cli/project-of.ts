/** The project that a call names, or the only one that there is. */
import { pool } from "@/server/db/pool";
import { requireProject } from "@/server/store/find-shot";
import { listProjects } from "@/server/store/projects";
import { CallWrong } from "./command";

/** @throws CallWrong where none is named and there is not exactly one */
export async function projectOf(slug: string | undefined): Promise<string> {
  if (slug !== undefined) return (await requireProject(slug)).slug;
  const projects = await listProjects(pool());
  if (projects.length === 1) return projects[0]!.slug;
  throw new CallWrong(
    projects.length === 0
      ? "there is no project yet: plain-tally project add NAME"
      : `say which project: --project ${projects.map((p) => p.slug).join(" or ")}`,
  );
}
