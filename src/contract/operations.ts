/**
 * Everything that can be asked of the server by HTTP, but for looking: which role it needs, and how it is told afterwards. What
 * does not stand here needs the highest role; a test holds that every route stands here.
 */
import type { Role } from "@/core/access/roles";

interface Operation {
  readonly needs: Role;
  /** "Mara … at 12:03". */
  readonly did: string;
}

const mark = (did: string): Operation => ({ needs: "mark", did });
const run = (did: string): Operation => ({ needs: "run", did });
const house = (did: string): Operation => ({ needs: "keep-house", did });
/** Changes nothing: a question with more in it than an address holds. */
const look = (did: string): Operation => ({ needs: "look", did });

/** By method and route, as folders of `src/app` spell it. */
export const OPERATIONS: Readonly<Record<string, Operation>> = {
  "POST /api/asides/[id]": house("let a node in again"),
  "POST /api/demo": run("made the demo film"),
  "POST /api/handovers/[id]/again": run("asked for a handover again"),
  "DELETE /api/handovers/[id]": run("removed a handover"),
  "POST /api/handovers/[id]/stop": run("stopped a handover"),
  "DELETE /api/movie-presets/[id]": run("removed a movie preset"),
  "POST /api/movie-presets": run("saved a movie preset"),
  "POST /api/nodes/[name]/aside": house("set a node aside"),
  "POST /api/nodes/[name]": house("changed a node"),
  "GET /api/nodes/invitations": house("looked at the invitations"),
  "DELETE /api/nodes/invitations/[name]": house("took a node's key away"),
  "POST /api/nodes/invitations": house("invited a node"),
  "POST /api/pause": house("paused all nodes, or let them go on"),
  "GET /api/people": house("looked at who may sign in"),
  "POST /api/people": house("let a person in"),
  "PATCH /api/people/[id]": house("changed what a person may do"),
  "DELETE /api/people/[id]": house("took a person's key away"),
  "GET /api/audit": house("looked at the audit"),
  "POST /api/presets/[id]": run("renamed a preset"),
  "DELETE /api/presets/[id]": run("removed a preset"),
  "POST /api/presets/import": run("took a preset in"),
  "POST /api/presets": run("saved a preset"),
  "POST /api/projects/[project]/edits": run("brought an edit in"),
  "PUT /api/projects/[project]/files": run("sent a file"),
  "DELETE /api/projects/[project]/files": run("removed a file that was sent"),
  "POST /api/projects/[project]/handovers/outlook": look("looked at what a handover would be"),
  "POST /api/projects/[project]/handovers": run("asked for a handover of an edit"),
  "PATCH /api/projects/[project]": run("changed a project"),
  "DELETE /api/projects/[project]": house("removed a project"),
  "POST /api/projects/[project]/shots/[code]/copies": run("copied a shot"),
  "POST /api/projects/[project]/shots/[code]/plan": run("saved a plan"),
  "PATCH /api/projects/[project]/shots/[code]": run("changed a shot"),
  "DELETE /api/projects/[project]/shots/[code]": house("removed a shot"),
  "POST /api/projects/[project]/shots/[code]/versions": run("opened a version"),
  "POST /api/projects/[project]/shots/edit": run("made shots of an edit"),
  "POST /api/projects/[project]/shots/list": run("made shots of a list"),
  "POST /api/projects/[project]/shots": run("made a shot"),
  "POST /api/projects/[project]/take-in/look": look("looked into a folder"),
  "POST /api/projects/[project]/take-in": run("took a folder in"),
  "POST /api/projects": run("made a project"),
  "POST /api/rebuild": house("brought a tally back from its records"),
  "POST /api/renderers/[name]/limit": house("set how many frames of a renderer are in work at once"),
  "POST /api/runs/[id]/change": run("changed the frames of a run"),
  "POST /api/runs/[id]/hand-out/take-back": run("took handed out frames back"),
  "POST /api/runs/[id]/put-back": run("put a frame back"),
  "POST /api/runs/[id]/resume-newest": run("went on with a run as planned now"),
  "POST /api/runs/[id]/resume": run("went on with a run"),
  "POST /api/runs/[id]/cluster": run("sent a run to the cluster"),
  "DELETE /api/runs/[id]/cluster": run("took a run back from the cluster"),
  "POST /api/runs/[id]/stop": run("stopped a run"),
  "POST /api/runs": run("changed the order of runs"),
  "POST /api/sequences/[id]/check": mark("had frames checked"),
  "DELETE /api/sequences/[id]/check": mark("stopped a check"),
  "POST /api/sequences/[id]/discards": house("discarded files"),
  "POST /api/sequences/[id]/flags": mark("flagged frames"),
  "DELETE /api/sequences/[id]/flags": mark("cleared flags"),
  "POST /api/sequences/[id]/handovers/outlook": look("looked at what a handover would be"),
  "POST /api/sequences/[id]/handovers": run("asked for a handover"),
  "DELETE /api/sequences/[id]/leftovers": run("removed leftovers"),
  "POST /api/sequences/[id]/log-facts": run("noted what a log says"),
  "POST /api/sequences/[id]/odd/judge": mark("judged odd frames"),
  "POST /api/sequences/[id]/odd/thresholds": mark("changed what counts as odd"),
  "DELETE /api/sequences/[id]/odd/thresholds": mark("took usual thresholds"),
  "POST /api/sequences/[id]/preflight": look("asked whether a run may start"),
  "POST /api/sequences/[id]/proofs/[run]/use": run("took proofs over"),
  "POST /api/sequences/[id]/proofs": run("started proofs"),
  "POST /api/sequences/[id]/replaced": run("accepted replaced frames, or took them back"),
  "POST /api/sequences/[id]/runs": run("started a run"),
  "POST /api/settings/tries": house("tried a renderer"),
  "POST /api/sign-out": look("signed out"),
  "DELETE /api/versions/[id]": run("removed an empty version"),
  "POST /api/versions/[id]/status": run("chose, opened or retired a version"),
};

/** Asked before anybody has signed in. */
export const OPEN_ROUTES: ReadonlySet<string> = new Set([
  "GET /api/health",
  "GET /api/me",
  "POST /api/sign-in",
  "GET /sign-in",
]);

const UNKNOWN: Operation = house("asked for something else");
const LOOK: Operation = look("looked");

/** A route as a pattern for addresses; the more it says in so many words the earlier it is asked. */
const patterns = Object.keys(OPERATIONS)
  .map((key) => {
    const [method = "", route = ""] = key.split(" ");
    const source = route.replace(/[.*+?^${}()|\\]/g, "\\$&").replace(/\[\w+\]/g, "[^/]+");
    return { key, method, pattern: new RegExp(`^${source}/?$`), words: route.split("[").length };
  })
  .sort((a, b) => a.words - b.words);

/**
 * What a request asks for.
 * @returns key of the operation, or method and address where it is none of the list
 */
export function operationOf(method: string, pathname: string): Operation & { readonly key: string } {
  const found = patterns.find((p) => p.method === method && p.pattern.test(pathname));
  if (found !== undefined) return { key: found.key, ...OPERATIONS[found.key]! };
  const isLook = method === "GET" || method === "HEAD";
  return { key: `${method} ${pathname}`, ...(isLook ? LOOK : UNKNOWN) };
}
