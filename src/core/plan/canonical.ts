/**
 * One text for equal values: JSON with sorted keys and no blanks. What fingerprints are made from.
 * Equal values give equal texts whatever order their keys were written in: a fingerprint must not depend on
 * that.
 */

export type Json = string | number | boolean | null | readonly Json[] | { readonly [key: string]: Json };

/**
 * Plain data of a type of its own. An interface has no index signature, so the compiler does not take it for
 * JSON by itself.
 */
export const asJson = (data: object | string | null): Json => data as unknown as Json;

/**
 * Undefined values are left out as JSON does, so that a setting which is not there and one that was never
 * thought of print alike.
 */
export function canonicalJson(value: Json): string {
  if (Array.isArray(value)) return `[${value.map(canonicalJson).join(",")}]`;
  if (value !== null && typeof value === "object") {
    const entries = Object.entries(value)
      .filter(([, item]) => item !== undefined)
      .sort(([a], [b]) => (a < b ? -1 : a > b ? 1 : 0));
    return `{${entries.map(([key, item]) => `${JSON.stringify(key)}:${canonicalJson(item)}`).join(",")}}`;
  }
  return JSON.stringify(value);
}
