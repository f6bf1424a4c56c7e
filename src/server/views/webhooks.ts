/** Addresses that are told of what happens, as people see them: without their secrets. */
import { WEBHOOK_ABOUT, type WebhookView } from "@/contract/webhook";
import { readConfiguration } from "../configuration";
import { pool } from "../db/pool";
import { stateOfWebhook } from "../store/webhooks";

export const viewWebhooks = (): Promise<WebhookView[]> =>
  Promise.all(
    Object.entries(readConfiguration().webhooks ?? {}).map(async ([name, { url, about = WEBHOOK_ABOUT }]) => {
      const { waiting, heardAt, fault } = await stateOfWebhook(pool(), name);
      return { name, host: new URL(url).host, about, waiting, heardAt: heardAt?.getTime() ?? null, fault };
    }),
  );
