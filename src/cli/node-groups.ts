/** `plain-tally group`: which nodes are in which groups; a run may be for all of one. */
import { BOUNDS } from "@/contract/bounds";
import { isMachineName } from "@/core/naming/name";
import { directNode } from "@/server/actions/nodes";
import { pool } from "@/server/db/pool";
import { listNodes } from "@/server/store/nodes";
import { CallWrong, EXIT, type ExitCode, listOf, print, printJson } from "./command";
import { whoCalls } from "./who";

export async function groupCommand(
  node: string | undefined,
  options: { readonly in?: string; readonly none?: boolean; readonly json?: boolean },
): Promise<ExitCode> {
  const { in: named, none } = options;
  if (named !== undefined || none === true) {
    if (node === undefined) throw new CallWrong("say which node");
    if (named !== undefined && none === true) throw new CallWrong("--in and --none exclude each other");
    const groups = named === undefined ? [] : [...new Set(listOf(named))];
    const wrong = groups.find((name) => !isMachineName(name) || name.length > BOUNDS.groupName);
    if (wrong !== undefined)
      throw new CallWrong(
        `"${wrong}" cannot be the name of a group: letters, digits, - and _, ${BOUNDS.groupName} at most`,
      );
    if (groups.length > BOUNDS.groupsOfNode)
      throw new CallWrong(`a node is in ${BOUNDS.groupsOfNode} groups at most`);
    await directNode(node, { groups }, whoCalls());
  }
  const nodes = (await listNodes(pool())).filter(({ name }) => node === undefined || name === node);
  if (node !== undefined && nodes.length === 0)
    throw new CallWrong(`no node called ${node} ever worked here`);
  if (options.json) printJson(nodes.map(({ name, groups }) => ({ node: name, groups })));
  else
    for (const { name, groups } of nodes)
      print(`${name}  ${groups.length === 0 ? "in no group" : groups.join(", ")}`);
  return EXIT.fine;
}
