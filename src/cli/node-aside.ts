/** `plain-tally aside`: nodes that get no frames, whoever said so, and the way back. */
import { letNodeIn, setNodeAsideByHand } from "@/server/actions/nodes";
import { pool } from "@/server/db/pool";
import { type AsideRow, openAsides } from "@/server/store/asides";
import { CallWrong, EXIT, type ExitCode, print, printJson } from "./command";
import { whoCalls } from "./who";

const whyOf = ({ reason }: AsideRow): string =>
  reason.code === "by-hand" ? reason.why : reason.code === "fails-alone" ? reason.message : "not ready";

export async function asideCommand(
  node: string | undefined,
  options: { readonly why?: string; readonly letIn?: boolean; readonly json?: boolean },
): Promise<ExitCode> {
  const { why, letIn } = options;
  if (node === undefined) {
    if (why !== undefined || letIn === true) throw new CallWrong("say which node");
  } else if (letIn === true) {
    if (why !== undefined) throw new CallWrong("--why and --let-in exclude each other");
    const own = (await openAsides(pool())).filter((row) => row.node === node);
    if (own.length === 0) throw new CallWrong(`${node} is not set aside`);
    for (const { id } of own) await letNodeIn(id, whoCalls());
  } else {
    if (why === undefined || why.trim() === "") throw new CallWrong("say why, with --why");
    await setNodeAsideByHand(node, why.trim(), whoCalls());
  }
  const asides = await openAsides(pool());
  if (options.json)
    printJson(
      asides.map((row) => ({
        ...{ node: row.node, run: row.runId, code: row.reason.code, why: whyOf(row) },
        at: row.at.toISOString(),
      })),
    );
  else {
    if (asides.length === 0) print("No node is set aside.");
    for (const row of asides)
      print(`${row.node}  ${row.runId === null ? "every run" : `run ${row.runId}`}  ${whyOf(row)}`);
  }
  return EXIT.fine;
}
