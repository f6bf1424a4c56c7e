/**
 * What people may do, from little to much: each role may what the ones before it may. *Look* sees all; *mark* judges frames;
 * *run* plans, renders and hands over; *keep house* decides of nodes, people and what goes for good.
 */

export const ROLES = ["look", "mark", "run", "keep-house"] as const;
export type Role = (typeof ROLES)[number];

/** Whether a role may do what another one is needed for. */
export const mayDo = (role: Role, needed: Role): boolean => ROLES.indexOf(role) >= ROLES.indexOf(needed);

export const isRole = (text: string): text is Role => (ROLES as readonly string[]).includes(text);

/** After "may". */
export const ROLE_WORD: Readonly<Record<Role, string>> = {
  look: "look",
  mark: "mark",
  run: "run",
  "keep-house": "keep house",
};
