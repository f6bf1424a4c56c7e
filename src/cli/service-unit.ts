/** Text of a systemd unit (systemd.service(5)) for the house of a machine, or for one of its nodes. */

export interface UnitOf {
  /** Null: database and pages; else a node of this name. */
  readonly node: string | null;
  /** Absolute: the program that runs the command, and the command. */
  readonly program: string;
  readonly command: string;
  /** Further words of the call. */
  readonly options: readonly string[];
  /** Whom it runs as; null: whoever's manager it is given to. */
  readonly user: string | null;
  /** Set for it. */
  readonly environment: Readonly<Record<string, string>>;
}

export const unitName = (node: string | null): string =>
  node === null ? "plain-tally.service" : `plain-tally-node-${node}.service`;

/**
 * What the manager replaces or parts is kept as it stands: a percent sign is its own, a dollar begins a variable.
 * @param isCall of a program that is called: nowhere else is a dollar anything
 */
function quoted(word: string, isCall: boolean): string {
  const kept = word.replace(/[\\"]/g, "\\$&").replace(/%/g, "%%");
  return `"${isCall ? kept.replace(/\$/g, "$$$$") : kept}"`;
}

/** Frames in work save what they have: so long may that take before they are ended the hard way. */
const STOP_SECONDS = 90;
/** A machine that starts may have to wait for its share. */
const AGAIN_SECONDS = 10;

export function unitText({ node, program, command, options, user, environment }: UnitOf): string {
  const call = [
    program,
    command,
    ...(node === null ? ["start", "--no-node"] : ["node", "--name", node]),
    ...options,
  ];
  return `${[
    "[Unit]",
    `Description=Plain Tally, ${node === null ? "database and pages" : `render node ${node}`}`,
    "Wants=network-online.target",
    `After=network-online.target remote-fs.target${node === null ? "" : ` ${unitName(null)}`}`,
    "",
    "[Service]",
    ...(user === null ? [] : [`User=${user}`]),
    ...Object.entries(environment).map(([name, value]) => `Environment=${quoted(`${name}=${value}`, false)}`),
    `ExecStart=${call.map((word) => quoted(word, true)).join(" ")}`,
    // The first process is told, and ends what it has started in the right order.
    "KillMode=mixed",
    `TimeoutStopSec=${STOP_SECONDS}`,
    "Restart=always",
    `RestartSec=${AGAIN_SECONDS}`,
    "",
    "[Install]",
    `WantedBy=${user === null ? "default.target" : "multi-user.target"}`,
  ].join("\n")}\n`;
}
