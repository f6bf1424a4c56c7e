/** `plain-tally webhook`: addresses that are told of what happens. */
import { type DeclaredWebhook, WEBHOOK_ABOUT } from "@/contract/webhook";
import { readConfiguration } from "@/server/configuration";
import { viewWebhooks } from "@/server/views/webhooks";
import { tell } from "@/server/webhooks/tell-webhooks";
import { CallWrong, complain, EXIT, type ExitCode, print, printJson } from "./command";

export async function webhookListCommand({ json }: { readonly json?: boolean }): Promise<ExitCode> {
  const webhooks = await viewWebhooks();
  if (json) printJson(webhooks);
  else if (webhooks.length === 0)
    print(
      `Nobody is told. Name an address under "webhooks" in plain-tally.config.json; there is ${WEBHOOK_ABOUT.join(", ")}.`,
    );
  else
    for (const { name, host, about, waiting, heardAt, fault } of webhooks)
      print(
        `${name}  ${host}  ${about.join(", ")}  ${waiting} to be told  ${heardAt === null ? "has heard nothing yet" : `heard at ${new Date(heardAt).toISOString()}`}${fault === null ? "" : `  not heard: ${fault}`}`,
      );
  return EXIT.fine;
}

/** Tells it a message that means nothing, so that whoever sets it up sees one come. */
export async function webhookTryCommand(name: string): Promise<ExitCode> {
  const webhook: DeclaredWebhook | undefined = readConfiguration().webhooks?.[name];
  if (webhook === undefined) throw new CallWrong(`there is no webhook "${name}" in the configuration`);
  const now = new Date();
  const told = {
    type: "test",
    timestamp: now.toISOString(),
    data: { text: "Plain Tally can be heard." },
  } as const;
  const fault = await tell(webhook, `tally_test_${now.getTime()}`, told);
  if (fault === null) print(`${name} has heard it.`);
  else complain(`${name} has not heard it: ${fault}`);
  return fault === null ? EXIT.fine : EXIT.system;
}
