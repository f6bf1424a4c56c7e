/** Network namespaces as machines of their own: nothing is to be had in them but a cable to this one, or to another. */
import { execFileSync } from "node:child_process";
import { existsSync } from "node:fs";

export const ip = (...args: readonly string[]): string =>
  execFileSync("ip", args, { stdio: "pipe", encoding: "utf8" });
/** Names of what was made here begin with it, then with the number of the process that made them. */
const PREFIX = "ptn";
export const named = (index: number): string => `${PREFIX}${process.pid}-${index}`;
/** The end of the cable on this machine. */
export const cableOf = (index: number): string => `${named(index)}a`;

export interface Place {
  readonly name: string;
  /** Of this machine, as the node sees it. */
  readonly host: string;
}

/** A network that no cable of this machine is in: another run may be at work beside this one. */
const freeSubnet = (): string => firstFree(ip("-4", "addr", "show"));

function firstFree(taken: string): string {
  for (let third = 0; third < 256; third++)
    if (!taken.includes(` 10.213.${third}.`)) return `10.213.${third}`;
  throw new Error("Every network from 10.213.0 to 10.213.255 is taken on this machine.");
}

/** A namespace with a cable to this one; nothing else is to be had in it. */
export function addPlace(index: number): Place {
  const name = named(index);
  const cable = cableOf(index);
  const subnet = freeSubnet();
  ip("netns", "add", name);
  ip("link", "add", cable, "type", "veth", "peer", "name", `${name}b`);
  ip("link", "set", `${name}b`, "netns", name);
  ip("addr", "add", `${subnet}.1/24`, "dev", cable);
  ip("link", "set", cable, "up");
  ip("netns", "exec", name, "ip", "addr", "add", `${subnet}.2/24`, "dev", `${name}b`);
  ip("netns", "exec", name, "ip", "link", "set", `${name}b`, "up");
  return { name, host: `${subnet}.1` };
}

export function removePlace(name: string): void {
  for (const args of [
    ["link", "del", `${name}a`],
    ["netns", "del", name],
  ]) {
    try {
      ip(...args);
    } catch {
      // It was not made.
    }
  }
}

/** A run that was killed leaves its cables, and whoever meets one sends answers into it. */
function removeLeftPlaces(): void {
  for (const line of ip("netns", "list").split("\n")) {
    const [name = ""] = line.split(" ");
    const maker = new RegExp(`^${PREFIX}(\\d+)-\\d$`).exec(name)?.[1];
    if (maker !== undefined && !existsSync(`/proc/${maker}`)) removePlace(name);
  }
}

export function canMakePlaces(): boolean {
  try {
    removeLeftPlaces();
    addPlace(0);
    return true;
  } catch (error) {
    process.stderr.write(
      `The test with network namespaces is skipped: they are not allowed here (${String((error as { stderr?: Buffer }).stderr ?? error).trim()})\n`,
    );
    return false;
  } finally {
    removePlace(named(0));
  }
}

/** A cable from one place to another. @returns the addresses of its ends */
export function joinPlaces(
  from: string,
  to: string,
  index: number,
): { readonly near: string; readonly far: string; readonly cable: string } {
  const cable = `${named(index)}c`;
  const subnet = freeSubnetIn(from);
  ip("link", "add", cable, "netns", from, "type", "veth", "peer", "name", "house", "netns", to);
  for (const [place, end, address] of [
    [from, cable, `${subnet}.1`],
    [to, "house", `${subnet}.2`],
  ] as const) {
    ip("netns", "exec", place, "ip", "addr", "add", `${address}/24`, "dev", end);
    ip("netns", "exec", place, "ip", "link", "set", end, "up");
  }
  return { near: `${subnet}.1`, far: `${subnet}.2`, cable };
}

/** A place with nothing but itself to talk to. */
export function addLonePlace(index: number): string {
  const name = named(index);
  ip("netns", "add", name);
  ip("netns", "exec", name, "ip", "link", "set", "lo", "up");
  return name;
}

/** What comes before a program that runs in a place. */
export const intoPlace = (name: string): readonly string[] => ["ip", "netns", "exec", name];

/** A network that no cable of a place is in. */
const freeSubnetIn = (place: string): string =>
  firstFree(ip("netns", "exec", place, "ip", "-4", "addr", "show"));
