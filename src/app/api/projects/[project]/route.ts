/** A project: changed, archived, removed from the tally. */
import { checkChangeProject } from "@/contract/project-bodies";
import { changeProject, removeProject } from "@/server/actions/projects";
import { rateOf } from "@/server/http/rate-of";
import { readBody, respond, whoOf } from "@/server/http/respond";

interface Params {
  readonly params: Promise<{ project: string }>;
}

/** Body: what is to change, at least one thing. */
export async function PATCH(request: Request, { params }: Params): Promise<Response> {
  const { project } = await params;
  return respond(async () => {
    const { rate, ...change } = await readBody(request, checkChangeProject);
    await changeProject(
      project,
      { ...change, ...(rate === undefined ? {} : { rate: rateOf(rate) }) },
      whoOf(request),
    );
  });
}

/** Takes it out of the tally with its shots; `?stop` stops its runs before. Answers LeftOnDisk. */
export async function DELETE(request: Request, { params }: Params): Promise<Response> {
  const { project } = await params;
  const stopsRuns = new URL(request.url).searchParams.has("stop");
  return respond(() => removeProject(project, { stopsRuns }, whoOf(request)));
}
