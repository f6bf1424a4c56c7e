/** The commands by which machines and people come in over the network, and go. */
import { collect, type CommandTools, JSON_OPTION as json } from "./own-work";

function declareJoining({ command, action }: CommandTools): void {
  command(
    "invite",
    "Let a node of another machine in: prints the line to run there.",
    "--name mole-2 --root frames=/mnt/frames",
    "",
  )
    .option("--name <name>", "of the node; without it, who is invited is told")
    .option("--root <name=folder>", "where a root lies there; may be given several times", collect, [])
    .option("--address <address>", "by which it reaches this machine; as it listens")
    .option("--again", "another key for one that is invited: what works with the first is turned out")
    .option(...json)
    .action(action(async () => (await import("./join")).inviteCommand));
  command("join", "Join the house that invited this machine, and work for it.", "tally1.eyJuYW1…")
    .argument("<invitation>", "what plain-tally invite printed; - reads it from standard input")
    .option("--root <name=folder>", "where a root lies here; may be given several times", collect, [])
    .option("--cores <n>", "frames at once, for a node that was never here; 1")
    .option("--no-node", "only keep what plain-tally node and the service need")
    .option(...json)
    .action(action(async () => (await import("./join")).joinCommand));
  command("leave", "Forget the house that this machine has joined.", "").action(
    action(async () => (await import("./join")).leaveCommand),
  );
  command("revoke", "Take a node's key away: it ends, and its frames go to others.", "mole-2")
    .argument("<name>", "of the node")
    .action(action(async () => (await import("./join")).revokeCommand));
}

function declarePeople({ command, group, action }: CommandTools): void {
  const person = group("person", "Who may sign in where the pages are reached over the network.");
  person("add", "Let somebody in; their key is told once.", '"Mara Lind" --role run')
    .argument("<name>", "as others know them")
    .option("--role <role>", "look, mark, run or keep-house: each may what the ones before may", "run")
    .option(...json)
    .action(action(async () => (await import("./person")).personAddCommand));
  person("list", "Tell who may sign in, and what they may do.", "", "--json")
    .option(...json)
    .action(action(async () => (await import("./person")).personListCommand));
  person("change", "Give somebody another role, or another key.", '"Mara Lind" --role mark', "Jon --new-key")
    .argument("<name>", "whom")
    .option("--role <role>", "look, mark, run or keep-house")
    .option("--new-key", "what is signed in with the first is out")
    .option(...json)
    .action(action(async () => (await import("./person")).personChangeCommand));
  person("remove", "Turn somebody out; what is signed in is out at once.", "Jon")
    .argument("<name>", "whom")
    .action(action(async () => (await import("./person")).personRemoveCommand));
  person("first", "Let the first one in, where nobody keeps the house yet.", "").action(
    action(async () => (await import("./person")).personFirstCommand),
  );
  command(
    "audit",
    "Tell what was asked for over HTTP, by whom, and what came of it.",
    "",
    "--csv > audit.csv",
  )
    .option("--csv", "all of it, with commas")
    .option("--last <count>", "so many lines, the newest first; 50")
    .option(...json)
    .action(action(async () => (await import("./person")).auditCommand));
}

export function declareNetwork(tools: CommandTools): void {
  declareJoining(tools);
  declarePeople(tools);
}
