/** Which nodes may take frames of a run: by their names, and by groups that they are in. */

/** Before the name of a group where nodes are named: no node can be called so. */
const GROUP = "group:";

export interface GroupedNode {
  readonly name: string;
  readonly groups: readonly string[];
}

/** As a group stands among names of nodes. */
export const groupMark = (group: string): string => `${GROUP}${group}`;

/** The group of such a mark; null: it is the name of a node. */
export const groupOfMark = (name: string): string | null =>
  name.startsWith(GROUP) ? name.slice(GROUP.length) : null;

/** @param wanted names, and marks of groups; null: every node */
export const mayTake = (wanted: readonly string[] | null, { name, groups }: GroupedNode): boolean =>
  wanted === null || wanted.some((one) => one === name || groups.includes(groupOfMark(one) ?? ""));

/** Every group that somebody is in, by name. */
export const groupsOfNodes = (nodes: readonly GroupedNode[]): readonly string[] =>
  [...new Set(nodes.flatMap(({ groups }) => groups))].sort();

/** "quay-1", "all of farm". */
export function wantedText(wanted: string): string {
  const group = groupOfMark(wanted);
  return group === null ? wanted : `all of ${group}`;
}
