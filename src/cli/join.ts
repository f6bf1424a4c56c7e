/** `plain-tally invite`, `join`, `leave`, `revoke`: how a node of another machine comes in over the network, and goes. */
import fs from "node:fs";
import net from "node:net";
import { readInvitation, writeInvitation } from "@/contract/invitation";
import { isMachineName } from "@/core/naming/name";
import { inviteNode, revokeNode } from "@/server/actions/invite-node";
import { joinedHouse, settings } from "@/server/configuration";
import { TallyError } from "@/server/errors";
import { joinHouse, leaveHouse } from "@/server/join/join-house";
import { viewInvitations } from "@/server/views/invitations";
import { CallWrong, complain, EXIT, type ExitCode, print, printJson } from "./command";
import { whoCalls } from "./who";

/** `name=folder` of each, the folder from the root of the file system on. */
function readRoots(pairs: readonly string[]): Record<string, string> {
  return Object.fromEntries(
    pairs.map((pair) => {
      const at = pair.indexOf("=");
      if (at < 1 || !pair.slice(at + 1).startsWith("/"))
        throw new CallWrong(`--root must be NAME=/folder, as the other machine has it; it is "${pair}"`);
      return [pair.slice(0, at), pair.slice(at + 1)];
    }),
  );
}

function requireName(name: string): string {
  if (!isMachineName(name))
    throw new CallWrong("the name of a node has letters, digits, - and _, such as mole-2");
  return name;
}

export interface InviteOptions {
  readonly name?: string;
  readonly root: readonly string[];
  readonly address?: string;
  readonly again?: boolean;
  readonly json?: boolean;
}

async function listCommand(json: boolean): Promise<ExitCode> {
  const all = await viewInvitations();
  if (json) printJson(all);
  else
    for (const { name, state, by } of all)
      print(`${name}  ${state}${by === null ? "" : `  invited by ${by}`}`);
  return EXIT.fine;
}

/** Prints the one line for the other machine, and nothing else: what it is for goes beside it. */
export async function inviteCommand({ name, root, address, again, json }: InviteOptions): Promise<ExitCode> {
  if (name === undefined) return listCommand(json === true);
  if (address !== undefined && net.isIP(address) === 0 && !/^[A-Za-z0-9.-]{1,253}$/.test(address))
    throw new CallWrong("--address must be an address or a name of this machine, such as 192.168.1.20");
  const invitation = await inviteNode(
    {
      name: requireName(name),
      roots: readRoots(root),
      address: address ?? null,
      again: again === true,
    },
    whoCalls(),
  );
  const word = writeInvitation(invitation);
  if (json) printJson({ ...invitation, invitation: word });
  else {
    complain(
      `${name} joins ${invitation.host}:${invitation.port} by this line, run on its machine. It holds a key: show it to nobody else.`,
    );
    print(`plain-tally join ${word}`);
  }
  return EXIT.fine;
}

export interface JoinOptions {
  readonly root: readonly string[];
  readonly cores?: string;
  /** False where only what a node needs shall be kept. */
  readonly node: boolean;
  readonly json?: boolean;
}

/** @param word `-` reads it from standard input, so that no list of processes shows it */
export async function joinCommand(word: string, { root, cores, node, json }: JoinOptions): Promise<ExitCode> {
  const read = readInvitation(word === "-" ? fs.readFileSync(0, "utf8").replace(/^.*\sjoin\s+/s, "") : word);
  if (!read.ok)
    throw new TallyError("invitation-broken", { why: read.faults[0]?.message ?? "cannot be read" });
  const joined = await joinHouse(read.value, readRoots(root));
  if (settings().databaseUrl !== joined.databaseUrl)
    throw new CallWrong(
      "PLAIN_TALLY_DATABASE_URL or the configuration file names another database, which goes before: take it away there",
    );
  if (json) printJson({ name: joined.name, roots: joined.roots });
  else {
    for (const [name, folder] of Object.entries(joined.roots))
      print(`${folder} is the root ${name} of the house.`);
    print(
      node
        ? `${joined.name} has joined, and works until Ctrl-C. From now on: plain-tally node, or plain-tally service install --node ${joined.name}`
        : `${joined.name} has joined: plain-tally node, or plain-tally service install --node ${joined.name}`,
    );
  }
  if (!node) return EXIT.fine;
  const { nodeCommand } = await import("./node");
  return nodeCommand({ name: joined.name, hide: [], ...(cores === undefined ? {} : { cores }) });
}

export function leaveCommand(): Promise<ExitCode> {
  const name = joinedHouse()?.name;
  if (!leaveHouse() || name === undefined) throw new CallWrong("this machine has joined no house");
  print(
    `This machine knows the house no more. On the server, plain-tally revoke ${name} takes the key away too.`,
  );
  return Promise.resolve(EXIT.fine);
}

export async function revokeCommand(name: string): Promise<ExitCode> {
  await revokeNode(requireName(name), whoCalls());
  print(`The key of ${name} is good no more; if it works, it ends within a second or two.`);
  return EXIT.fine;
}
