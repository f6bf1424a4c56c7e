/** The settings of the house, and what its nodes see of them. */
import { CALL_MOMENTS } from "@/contract/configuration";
import crypto from "node:crypto";
import fs from "node:fs/promises";
import path from "node:path";
import type { HouseQuestion } from "@/contract/node-request";
import type { HouseSeenView, SettingsView, SettingView } from "@/contract/settings-view";
import { STAND_IN } from "@/core/plan/renderer";
import { configurationFile, dataFolder, settings } from "../configuration";
import { pool } from "../db/pool";
import { freeBytes } from "../files/free-space";
import { AWAY_SECONDS } from "../queue/takers";
import { engineOf, rendererOffers } from "../scenes/renderers";
import { listNodes } from "../store/nodes";
import { rendererLimits } from "../store/renderer-limits";
import { listAllProjects } from "../store/projects";
import { askAll } from "../queue/ask-nodes";
import { viewWebhooks } from "./webhooks";

/** Variables that go before the file. */
const VARIABLE: Readonly<Record<string, string>> = {
  databaseUrl: "PLAIN_TALLY_DATABASE_URL",
  roots: "PLAIN_TALLY_ROOTS",
};

/** An address of a database that may be shown: whoever looks need not know its password. */
function withoutPassword(url: string): string {
  try {
    const shown = new URL(url);
    shown.password = "";
    return shown.toString();
  } catch {
    return "an address that cannot be read";
  }
}

/** @throws TallyError `configuration-broken` */
export async function viewSettings(): Promise<SettingsView> {
  const own = settings();
  const [projects, limits] = await Promise.all([listAllProjects(pool()), rendererLimits(pool())]);
  const value = (name: keyof typeof own.sources, text: string): SettingView => ({
    name,
    value: text,
    source: own.sources[name],
    variable: VARIABLE[name] ?? null,
  });
  const days = ({ logDays, attemptDays, asideDays }: typeof own.keep): string =>
    `logs ${logDays} days, attempts ${attemptDays} days, replaced files ${asideDays} days`;
  return {
    file: configurationFile(),
    hasFile: await fs.access(configurationFile()).then(
      () => true,
      () => false,
    ),
    values: [
      value("data", dataFolder()),
      value("databaseUrl", withoutPassword(own.databaseUrl)),
      value("roots", Object.keys(own.roots).join(", ")),
      value("renderers", Object.keys(own.renderers).join(", ") || "none besides the stand-in"),
      ...CALL_MOMENTS.map((moment) =>
        value(moment, own.programCalls[moment]?.program ?? "nothing is called"),
      ),
      value("keep", days(own.keep)),
    ],
    roots: await Promise.all(
      Object.entries(own.roots).map(async ([name, folder]) => ({
        name,
        folder,
        freeBytes: await freeBytes(folder),
        projects: projects.filter((p) => p.root === name).map((p) => p.title),
      })),
    ),
    renderers: rendererOffers().map((offer) => ({
      offer,
      program: own.renderers[offer.name]?.program ?? null,
      version: own.renderers[offer.name]?.version ?? null,
      atOnce: limits.get(offer.name) ?? null,
    })),
    programCalls: own.programCalls,
    keep: own.keep,
    webhooks: await viewWebhooks(),
  };
}

/** Puts a file into each root that nodes look for; null where it cannot be written. */
async function putSigns(
  roots: Readonly<Record<string, string>>,
): Promise<readonly { readonly name: string; readonly sign: string | null; readonly place: string }[]> {
  const sign = `.plain-tally-sign-${crypto.randomUUID()}`;
  return Promise.all(
    Object.entries(roots).map(async ([name, folder]) => {
      const place = path.join(folder, sign);
      const isThere = await fs.writeFile(place, "").then(
        () => true,
        () => false,
      );
      return { name, sign: isThere ? sign : null, place };
    }),
  );
}

/** Asks every node that is heard of. */
export async function viewHouseSeen(): Promise<HouseSeenView> {
  const { roots, renderers } = settings();
  const awake = (await listNodes(pool())).filter((n) => !n.stopped && n.secondsSinceSeen < AWAY_SECONDS);
  const signs = await putSigns(roots);
  try {
    const question: HouseQuestion = {
      kind: "house",
      roots: signs.map(({ name, sign }) => ({ name, sign })),
      renderers: [STAND_IN, ...Object.keys(renderers)].map((name) => ({ name, engine: engineOf(name) })),
    };
    return { nodes: await askAll(awake, question) };
  } finally {
    for (const { place } of signs) await fs.rm(place, { force: true }).catch(() => undefined);
  }
}
