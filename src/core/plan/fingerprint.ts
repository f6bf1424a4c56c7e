/**
 * Fingerprints of a sequence: SHA-256 over a canonical form.
 * - look: what the pixels depend on; must match, or the frame is stale.
 * - effort: how much was asked for; may grow.
 * - file: how the picture is written.
 * Name, folder and nodes are in none. The frame number is in none either: a look is shared by the
 * whole sequence, and what differs from frame to frame follows from the scene.
 */
import { sha256 } from "@noble/hashes/sha2.js";
import { bytesToHex, utf8ToBytes } from "@noble/hashes/utils.js";
import type { Plan } from "./plan";

export interface Fingerprints {
  readonly look: string;
  readonly effort: string;
  readonly file: string;
}

export interface LookSources {
  /** SHA-256 of the scene file's bytes. */
  readonly scene: string;
  /** SHA-256 of each file that the scene uses, by its name in the scene; null where it was not to be had. */
  readonly files: Readonly<Record<string, string | null>>;
  /** Name and version of the engine, with what its arithmetic depends on. */
  readonly engine: string;
  readonly pass: string;
}

type Json = string | number | boolean | null | readonly Json[] | { readonly [key: string]: Json };

/** JSON with sorted keys and no blanks: equal values give equal text. */
export function canonicalJson(value: Json): string {
  if (Array.isArray(value)) return `[${value.map(canonicalJson).join(",")}]`;
  if (value !== null && typeof value === "object") {
    const entries = Object.entries(value).sort(([a], [b]) => (a < b ? -1 : a > b ? 1 : 0));
    return `{${entries.map(([key, item]) => `${JSON.stringify(key)}:${canonicalJson(item)}`).join(",")}}`;
  }
  return JSON.stringify(value);
}

const fingerprint = (value: Json): string => bytesToHex(sha256(utf8ToBytes(canonicalJson(value))));

export function fingerprintsOf(plan: Plan, sources: LookSources): Fingerprints {
  return {
    look: fingerprint({ scene: sources.scene, files: sources.files, engine: sources.engine, pass: sources.pass, camera: plan.camera, width: plan.width, height: plan.height, seed: plan.seed }),
    effort: fingerprint({ samples: plan.samples }),
    file: fingerprint({ format: plan.format }),
  };
}
