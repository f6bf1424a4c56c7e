"use client";
/** Addresses that are told of what happens, and whether they hear it. */
import { Table, Text } from "@chakra-ui/react";
import type { WebhookView } from "@/contract/webhook";
import { useNow } from "../page/header";
import { clock, count } from "../words";
import { Cell, Heads } from "./parts";

/** Whether it hears what it is told; what it has not heard is told again. */
function heardText({ heardAt, waiting, fault }: WebhookView, now: number | null): string {
  const heard = heardAt === null || now === null ? "has heard nothing yet" : `heard ${clock(heardAt, now)}`;
  return `${heard}${waiting === 0 ? "" : `, ${count(waiting)} to be told`}${fault === null ? "" : `; not heard: ${fault}`}`;
}

export function Webhooks({ webhooks }: { readonly webhooks: readonly WebhookView[] }) {
  const now = useNow();
  if (webhooks.length === 0)
    return (
      <Text color="softInk">
        Nobody is told. Put an address under <code>webhooks</code> into the file; the guide shows how.
      </Text>
    );
  return (
    <Table.Root size="sm" variant="line" aria-label="Webhooks">
      <Heads
        names={[
          ["Name", "14%"],
          ["Address", "22%"],
          ["Told of", "34%"],
          ["Heard", "30%"],
        ]}
      />
      <Table.Body>
        {webhooks.map((webhook) => (
          <Table.Row key={webhook.name} bg="transparent" data-testid={`webhook-${webhook.name}`}>
            <Cell isMono>{webhook.name}</Cell>
            <Cell isMono>{webhook.host}</Cell>
            <Cell>{webhook.about.join(", ")}</Cell>
            <Cell>
              <Text {...(webhook.fault === null ? {} : { color: "brick" })}>{heardText(webhook, now)}</Text>
            </Cell>
          </Table.Row>
        ))}
      </Table.Body>
    </Table.Root>
  );
}
