/** Folders below the roots, for whoever points at one. */
import { BOUNDS } from "@/contract/bounds";
import { respond } from "@/server/http/respond";
import { viewFolderTree } from "@/server/views/folder-tree";

export const dynamic = "force-dynamic";

/** Query: root, folder, find. Answers a FolderTreeView. */
export async function GET(request: Request): Promise<Response> {
  return respond(() => {
    const query = new URL(request.url).searchParams;
    return viewFolderTree(
      query.get("root"),
      (query.get("folder") ?? "").slice(0, BOUNDS.foundPath),
      (query.get("find") ?? "").slice(0, BOUNDS.search),
    );
  });
}
