/** The commands by which machines and people come in over the network, and go. */
import { collect, type CommandTools, JSON_OPTION as json } from "./own-work";

function declareNode({ command, action }: CommandTools): void {
  command("node", "Work as a render node until Ctrl-C.", "--name quay-1", "--once --run 12 --frame 57")
    .option("--name <name>", "letters, digits, - and _: each node has one of its own; as it was invited")
    .option(
      "--cores <n>",
      "frames at once, for a node that was never here; from then on the page Nodes says; 1",
    )
    .option("--lease <seconds>", "length of a lease: how soon a lost node's frame is taken over, such as 25")
    .option("--silence <seconds>", "a renderer that says nothing for so long is ended, such as 600")
    .option(
      "--limit-from <seconds>",
      "frames that take less are never ended for taking ten times what was expected, such as 60",
    )
    .option("--once", "one frame of a run, and no more: what a batch system starts for each task")
    .option("--run <number>", "with --once: of which run")
    .option("--frame <n>", "with --once: which frame")
    .option("--sequence <number>", "with --once: of which camera, where the run has several")
    .option("--light", "with --once: the light that the frame needs, and not the frame")
    .option("--unproven", "takes frames without a proof that it sees their files")
    .option(
      "--hide <file>",
      "fault for demos and tests: a texture this node does not see; FILE:N for its first N frames",
      collect,
      [],
    )
    .option("--die-in-frame <n>", "fault: ends the hard way in its n-th frame, such as 3")
    .option("--slow <factor>", "fault: takes so many times as long, such as 2")
    .action(action(async () => (await import("./node")).nodeCommand));
}

function declareCluster({ group, action }: CommandTools): void {
  const cluster = group("cluster", "Runs that a batch system (Slurm) hands to its machines.");
  cluster(
    "send",
    "Submit a run's frames as arrays; whoever takes frames goes on.",
    "12",
    "12 --frames 1-48 --minutes 90",
  )
    .argument("<run>", "its number")
    .option("--frames <phrase>", "a part of it, such as 1-48; all of it")
    .option("--partition <name>", "machines that it goes to; the usual ones")
    .option("--minutes <n>", "that a frame may take; as the batch system has it")
    .option("--memory <mb>", "megabytes that a frame may use; as the batch system has it")
    .option("--only", "no other node takes frames of it")
    .option(...json)
    .action(action(async () => (await import("./cluster")).sendCommand));
  cluster("back", "Take a run back from the batch system; frames in work are saved.", "12")
    .argument("<run>", "its number")
    .action(action(async () => (await import("./cluster")).backCommand));
  cluster("list", "Look, and tell the runs that are there and how they stand.", "", "--json")
    .option(...json)
    .action(action(async () => (await import("./cluster")).listCommand));
}

function declareWebhooks({ group, action }: CommandTools): void {
  const webhook = group(
    "webhook",
    "Addresses that are told of what happens, signed; the configuration names them.",
  );
  webhook("list", "Tell them, what each has heard, and what it has not.", "", "--json")
    .option(...json)
    .action(action(async () => (await import("./webhook")).webhookListCommand));
  webhook("try", "Tell one of them a message that means nothing.", "studio")
    .argument("<name>", "as the configuration has it")
    .action(action(async () => (await import("./webhook")).webhookTryCommand));
}

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
  declareNode(tools);
  declareCluster(tools);
  declareWebhooks(tools);
  declareJoining(tools);
  declarePeople(tools);
}
