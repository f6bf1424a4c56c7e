/** Files of a project: which there are, and how a person brings one. */
import { checkFilePart, type FilePart, PART_BYTES } from "@/contract/file-part";
import { dropFileParts, takeFilePart } from "@/server/actions/take-file";
import { bytesOfBody, readQuery, respond } from "@/server/http/respond";
import { viewProjectFiles } from "@/server/views/projects";

export const dynamic = "force-dynamic";

interface Params {
  readonly params: Promise<{ project: string }>;
}

const partOf = (request: Request): FilePart =>
  readQuery(request, checkFilePart, (query) => ({
    name: query.get("name"),
    upload: query.get("upload"),
    from: Number(query.get("from") ?? NaN),
    size: Number(query.get("size") ?? NaN),
    replaces: query.has("replaces"),
  }));

/** Answers a ProjectFilesView. */
export async function GET(_request: Request, { params }: Params): Promise<Response> {
  const { project } = await params;
  return respond(() => viewProjectFiles(project));
}

/** Body: the next bytes of a file; the query says which. Answers `file`, a TakenFile once it is whole, else null. */
export async function PUT(request: Request, { params }: Params): Promise<Response> {
  const { project } = await params;
  return respond(async () => ({
    file: await takeFilePart(project, partOf(request), await bytesOfBody(request, PART_BYTES)),
  }));
}

/** Gives up what was brought so far; the query says of which file. */
export async function DELETE(request: Request, { params }: Params): Promise<Response> {
  const { project } = await params;
  return respond(() => dropFileParts(project, partOf(request)));
}
