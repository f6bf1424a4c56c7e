/**
 * Values that fit a JSON schema, at random by a seed: the part of JSON Schema that our schemas use. (A package for it was tried:
 * it takes objects without needed members but with a least number of them for schemas that nothing fits.)
 */

import { nameFault } from "@/core/naming/name";

export type Even = () => number;
export const oneOf = <T>(even: Even, all: readonly T[]): T => all[Math.floor(even() * all.length)]!;

interface Schema {
  readonly type?: string | readonly string[];
  readonly enum?: readonly unknown[];
  readonly const?: unknown;
  readonly anyOf?: readonly Schema[];
  readonly oneOf?: readonly Schema[];
  /** Decided by the kind of value: either branch will do. */
  readonly then?: Schema;
  readonly else?: Schema;
  readonly format?: string;
  readonly properties?: Readonly<Record<string, Schema>>;
  readonly required?: readonly string[];
  readonly minProperties?: number;
  readonly propertyNames?: Schema;
  readonly additionalProperties?: Schema | boolean;
  readonly items?: Schema | readonly Schema[];
  readonly minItems?: number;
  readonly maxItems?: number;
  readonly uniqueItems?: boolean;
  readonly minimum?: number;
  readonly maximum?: number;
  readonly exclusiveMinimum?: number;
  readonly exclusiveMaximum?: number;
  readonly minLength?: number;
  readonly maxLength?: number;
  readonly pattern?: string;
}

/** Of these one fits every pattern that we have. */
const TEXTS = [
  ...[
    "a",
    "a-b",
    "HL010",
    "main",
    "scenes/test.json",
    "1-4",
    "/mnt/frames",
    "12:30",
    "3",
    "0123456789",
    "x.####.png",
  ],
  ...[
    "2026-12-01T03:00:00Z",
    "v001",
    "mysql://a@b/c",
    "01:00:00:00",
    "ab12".repeat(16),
    "ab12".repeat(10),
    "#0e5a63",
  ],
];
const LARGEST = 1_000_000;

function textOf({ format, pattern, minLength = 0, maxLength = 50 }: Schema, even: Even): string {
  const shape = pattern === undefined ? null : new RegExp(pattern, "u");
  const texts = [...TEXTS, "z".repeat(minLength)].filter(
    (text) =>
      text.length >= minLength &&
      text.length <= maxLength &&
      (shape === null || shape.test(text)) &&
      (format !== "name" || nameFault(text) === null),
  );
  if (texts.length === 0)
    throw new Error(`No text of TEXTS fits ${String(pattern)} of ${minLength} to ${maxLength}`);
  return oneOf(even, texts);
}

function numberOf(schema: Schema, isWhole: boolean, even: Even): number {
  const step = isWhole ? 1 : 1e-3;
  const least =
    schema.minimum ?? (schema.exclusiveMinimum === undefined ? -10 : schema.exclusiveMinimum + step);
  const most = Math.min(
    schema.maximum ?? (schema.exclusiveMaximum === undefined ? Infinity : schema.exclusiveMaximum - step),
    Math.max(least + 100, even() < 0.1 ? LARGEST : 0),
  );
  const value = even() < 0.2 ? least : least + even() * (most - least);
  return isWhole ? Math.max(Math.ceil(least), Math.floor(value)) : value;
}

function listOf({ items, minItems = 0, maxItems = 3, uniqueItems }: Schema, even: Even): unknown[] {
  if (Array.isArray(items)) return (items as readonly Schema[]).map((item) => valueOf(item, even));
  const count = Math.max(minItems, Math.floor(even() * (Math.min(maxItems, 3) + 1)));
  const made = Array.from({ length: count }, () => valueOf((items ?? {}) as Schema, even));
  return uniqueItems === true ? [...new Map(made.map((v) => [JSON.stringify(v), v])).values()] : made;
}

function objectOf(schema: Schema, even: Even): Record<string, unknown> {
  const { properties = {}, required = [], minProperties = 0, additionalProperties } = schema;
  const left = Object.keys(properties).filter((key) => !required.includes(key));
  const chosen = left.filter(() => even() < 0.5);
  while (required.length + chosen.length < minProperties)
    chosen.push(left.find((key) => !chosen.includes(key))!);
  const made = Object.fromEntries(
    [...required, ...chosen].map((key) => [key, valueOf(properties[key]!, even)] as const),
  );
  if (typeof additionalProperties === "object" && even() < 0.6)
    made[valueOf({ type: "string", ...schema.propertyNames }, even) as string] = valueOf(
      additionalProperties,
      even,
    );
  return made;
}

/** @throws Error for a schema that says what this does not know */
export function valueOf(schema: Schema, even: Even): unknown {
  if ("const" in schema) return schema.const;
  if (schema.enum !== undefined) return oneOf(even, schema.enum);
  const { then, else: otherwise } = schema;
  const branches =
    schema.oneOf ??
    schema.anyOf ??
    (then === undefined || otherwise === undefined ? undefined : [then, otherwise]);
  if (branches !== undefined) return valueOf(oneOf(even, branches), even);
  const types = [schema.type ?? "object"].flat();
  switch (oneOf(even, types)) {
    case "null":
      return null;
    case "boolean":
      return even() < 0.5;
    case "integer":
      return numberOf(schema, true, even);
    case "number":
      return numberOf(schema, false, even);
    case "string":
      return textOf(schema, even);
    case "array":
      return listOf(schema, even);
    case "object":
      return objectOf(schema, even);
    default:
      throw new Error(`No values of ${JSON.stringify(schema)}`);
  }
}
