/**
 * `plain-tally service`: database and pages, or a node, as a service of this machine that begins with it and comes back when
 * it ends. As root it is the machine's, for anybody else their own.
 */
import { execFileSync } from "node:child_process";
import fs from "node:fs";
import os from "node:os";
import path from "node:path";
import { isMachineName } from "@/core/naming/name";
import { home } from "@/server/configuration";
import { CallWrong, EXIT, type ExitCode, print } from "./command";
import { unitName, unitText } from "./service-unit";

export interface ServiceOptions {
  readonly node?: string;
  readonly user?: string;
  readonly port?: string;
  /** Where units lie; the manager is told of its own places alone. */
  readonly units?: string;
}

/** What a service is given of the environment that it is installed from. */
const KEPT = ["PLAIN_TALLY_PLACE", "PLAIN_TALLY_CONFIG", "PLAIN_TALLY_ROOTS"] as const;
/** As accounts are called (useradd(8)). */
const ACCOUNT = /^[a-z_][a-z0-9_-]{0,31}$/;

const isRoot = (): boolean => process.getuid?.() === 0;

const unitFolder = ({ units }: ServiceOptions): string =>
  units ?? (isRoot() ? "/etc/systemd/system" : path.join(os.homedir(), ".config/systemd/user"));

/** @returns false where no manager runs, or where the units are none of its */
function tellManager({ units }: ServiceOptions, ...calls: readonly (readonly string[])[]): boolean {
  if (units !== undefined || !fs.existsSync("/run/systemd/system")) return false;
  for (const call of calls)
    try {
      execFileSync("systemctl", [...(isRoot() ? [] : ["--user"]), ...call], { stdio: "pipe" });
    } catch (error) {
      const said = (error as { stderr?: Buffer }).stderr?.toString().trim() ?? (error as Error).message;
      throw new CallWrong(`systemctl ${call.join(" ")}: ${said}`);
    }
  return true;
}

function readNode({ node }: ServiceOptions): string | null {
  if (node === undefined) return null;
  if (!isMachineName(node)) throw new CallWrong("--node must be letters, digits, - and _, such as quay-1");
  return node;
}

export async function installService(options: ServiceOptions): Promise<ExitCode> {
  const node = readNode(options);
  const { port } = options;
  if (node !== null && port !== undefined) throw new CallWrong("--port is of the pages, and a node has none");
  if (port !== undefined && !(/^\d{1,5}$/.test(port) && Number(port) > 0 && Number(port) < 65_536))
    throw new CallWrong("--port must be a number from 1 to 65535");
  if (options.user !== undefined && !isRoot())
    throw new CallWrong("--user is for root: your own services run as you");
  const user = isRoot() ? (options.user ?? process.env.SUDO_USER ?? "root") : null;
  if (user !== null && !ACCOUNT.test(user)) throw new CallWrong(`"${user}" is no account`);
  const environment = Object.fromEntries(
    KEPT.flatMap((name) => {
      const value = process.env[name];
      return value === undefined ? [] : [[name, value]];
    }),
  );
  // Of the account that it runs as: what root's command was told is root's.
  if (user !== null && user !== "root" && process.env.PLAIN_TALLY_PLACE !== undefined)
    delete environment.PLAIN_TALLY_PLACE;
  const folder = unitFolder(options);
  const name = unitName(node);
  const text = unitText({
    node,
    program: process.execPath,
    command: path.join(home(), "bin/plain-tally.mjs"),
    options: port === undefined ? [] : ["--port", port],
    user,
    environment,
  });
  fs.mkdirSync(folder, { recursive: true });
  fs.writeFileSync(path.join(folder, name), text);
  const isTold = tellManager(options, ["daemon-reload"], ["enable", "--now", name]);
  print(
    isTold
      ? `${name} runs, and begins with this machine.`
      : `${path.join(folder, name)} is written; no manager was told of it.`,
  );
  return EXIT.fine;
}

export async function removeService(options: ServiceOptions): Promise<ExitCode> {
  const name = unitName(readNode(options));
  const file = path.join(unitFolder(options), name);
  if (!fs.existsSync(file)) throw new CallWrong(`there is no ${file}`);
  tellManager(options, ["disable", "--now", name]);
  fs.rmSync(file);
  tellManager(options, ["daemon-reload"]);
  print(`${name} is removed; what it kept stays.`);
  return EXIT.fine;
}
