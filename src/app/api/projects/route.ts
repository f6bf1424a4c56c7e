/** Which projects there are, and a new one. */
import { checkNewProject } from "@/contract/project-bodies";
import { createProject } from "@/server/actions/projects";
import { rateOf } from "@/server/http/rate-of";
import { readBody, respond, whoOf } from "@/server/http/respond";
import { viewProjects } from "@/server/views/projects";

export const dynamic = "force-dynamic";

/** Answers a ProjectsView, in the order in which they were made. */
export const GET = (): Promise<Response> => respond(viewProjects);

/** Makes a project and its folder; a folder that is there is taken as it is. */
export const POST = (request: Request): Promise<Response> =>
  respond(async () => {
    const { rate, ...project } = await readBody(request, checkNewProject);
    await createProject({ ...project, rate: rateOf(rate) }, whoOf(request));
    return { slug: project.slug };
  });
