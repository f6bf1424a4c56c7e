/**
 * Texts of the Nodes page.
 * What a node is, does and may is data; what it is called stands here, once, so that page and tips say the
 * same.
 */
import { setOf } from "@/core/frames/frame-set";
import { formatPhrase } from "@/core/frames/phrase";
import type { AsideView, NodeView } from "@/contract/node-view";
import type { InvitationView } from "@/contract/invitation-view";
import { clock } from "../words";

/** As the list says it; the choice of nodes before a start has room for one word only. */
export const NODE_STATE_WORD: Readonly<Record<NodeView["state"], string>> = {
  "at-work": "at work",
  idle: "free, waits for frames",
  paused: "paused",
  "off-hours": "outside its hours",
  "set-aside": "set aside",
  away: "not heard of",
  stopped: "stopped",
  "on-call": "waits to be called",
};

/** Why a node is set aside, and what now. */
export function asideText({ reason, runId, shot }: AsideView): string {
  if (reason.code === "fails-alone")
    return `Set aside from every run: it failed on ${formatPhrase(setOf(reason.frames))}, which other nodes made. Last: ${reason.message}`;
  if (reason.code === "by-hand")
    return `Set aside from every run${reason.who === null ? "" : ` by ${reason.who}`}: ${reason.why}`;
  const lacks = [
    ...(reason.missing.length > 0 ? [`does not see ${reason.missing.join(", ")}`] : []),
    ...(reason.different.length > 0 ? [`sees other bytes in ${reason.different.join(", ")}`] : []),
    ...reason.renderers.map((fault) => `cannot render it (${fault})`),
    ...(reason.cannotWrite === null ? [] : [`cannot write (${reason.cannotWrite})`]),
  ];
  return `Takes no frames of run ${runId}${shot === null ? "" : ` (${shot})`}: it ${lacks.join(", ")}. It comes back by itself once that is mended.`;
}

/** Most that a renderer may use, in MB. */
export const MEMORY_TEXT: readonly (readonly [string, string])[] = [
  ["", "no limit"],
  ...[2, 4, 8, 16, 32, 64, 128].map((gb) => [String(gb * 1000), `${gb} GB`] as const),
];

/** How polite its renderers are to other programs on the machine, by what the system calls niceness. */
export const NICE_TEXT: Readonly<Record<string, string>> = {
  0: "not at all",
  5: "a little",
  10: "clearly",
  19: "takes only what is idle",
};

export const INVITATION_TEXT = {
  nothingListens:
    "Nothing here can be reached by other machines. Started with --listen ADDRESS, where ADDRESS is what they know this one by, it lets in nodes that were invited, each with a key of its own, over TLS.",
  listens: (at: string): string => `They reach the database at ${at}, over TLS, each with a key of its own.`,
  nameWrong: "Letters, digits, - and _.",
  folderWrong: "A whole path, from / on.",
  rootsHint:
    "Where each share is mounted on that machine; blank: not shared there. All blank: the machine says it.",
  again: (name: string): string =>
    `${name} is invited already: what works with its first key is turned out, and has to join again.`,
  runThere: (name: string): string =>
    `Run this line on the machine of ${name}. It holds the key and is told this once:`,
} as const;

/** How it stands with an invitation, and who it was. */
export function invitationText({ state, by, at, revoked }: InvitationView, now: number): string {
  const who = by === null ? "" : ` by ${by}`;
  if (revoked !== null)
    return `revoked ${clock(revoked.at, now)}${revoked.by === null ? "" : ` by ${revoked.by}`}: it cannot come in`;
  return state === "joined"
    ? `has joined; invited ${clock(at, now)}${who}`
    : `invited ${clock(at, now)}${who}, and not here yet`;
}
