/**
 * One validator for every edge: a JSON schema in, typed data or faults with a path out. Before the schema is
 * asked, the value is walked once: what is nested without end, or is no text, no schema need know.
 */
import { BOUNDS } from "./bounds";
import { isText, nameFault } from "@/core/naming/name";
import Ajv, { type ErrorObject, type SchemaObject, type ValidateFunction } from "ajv";

export interface SchemaFault {
  /** Where in the value, as a JSON pointer; "" is the whole. */
  readonly path: string;
  /** The key there that is not known, where that is the fault. */
  readonly unknownKey?: string;
  readonly message: string;
}

export type Checked<T> =
  { readonly ok: true; readonly value: T } | { readonly ok: false; readonly faults: readonly SchemaFault[] };

export interface Checker<T> {
  (value: unknown): Checked<T>;
  /** What it holds a value against. */
  readonly schema: SchemaObject;
}

const ajv = new Ajv({
  verbose: true,
  allErrors: true,
  allowUnionTypes: true,
  strict: true,
  strictTuples: false,
});
ajv.addFormat("name", (text) => nameFault(text) === null);

const signs = (n: number): string => `${n} character${n === 1 ? "" : "s"}`;
/** For people: what a bound of a schema asks. */
const BOUND_WORD: Readonly<Record<string, (limit: number) => string>> = {
  minimum: (limit) => `must be at least ${limit}`,
  maximum: (limit) => `must be at most ${limit}`,
  exclusiveMinimum: (limit) => `must be more than ${limit}`,
  exclusiveMaximum: (limit) => `must be less than ${limit}`,
  minLength: (limit) => (limit === 1 ? "must not be blank" : `must have at least ${signs(limit)}`),
  maxLength: (limit) => `must have at most ${signs(limit)}`,
  minItems: (limit) => `must name at least ${limit}`,
  maxItems: (limit) => `must name at most ${limit}`,
};
const TYPE_WORD: Readonly<Record<string, string>> = {
  integer: "a whole number",
  number: "a number",
  string: "a text",
  boolean: "yes or no",
  array: "a list",
  object: "an object",
  null: "left out",
};

const typeText = (types: unknown): string =>
  [types]
    .flat()
    .map((type) => TYPE_WORD[String(type)] ?? String(type))
    .join(", or ");

const sentence = (error: ErrorObject): string => {
  if (error.keyword === "additionalProperties")
    return `the key "${String(error.params.additionalProperty)}" is not known`;
  if (error.keyword === "required") return `the key "${String(error.params.missingProperty)}" is missing`;
  if (error.keyword === "enum")
    return `must be one of ${(error.params.allowedValues as unknown[]).join(", ")}`;
  if (error.keyword === "format" && error.params.format === "name")
    return nameFault(String(error.data)) ?? "is no name";
  if (error.keyword === "uniqueItems") return "must not say the same twice";
  const bound = BOUND_WORD[error.keyword];
  if (bound !== undefined) return bound(Number(error.params.limit));
  if (error.keyword === "type") return `must be ${typeText(error.params.type)}`;
  if (error.keyword === "const") return `must be ${JSON.stringify(error.params.allowedValue)}`;
  return error.message ?? "is wrong";
};

/**
 * What is wrong with a value whatever its schema: nested too deep, or a text with half a sign in it. Walked
 * without recursion: how deep a value goes is its sender's choice.
 */
function plainFault(value: unknown): SchemaFault | null {
  const open: (readonly [value: unknown, depth: number, path: string])[] = [[value, 0, ""]];
  for (let next = open.pop(); next !== undefined; next = open.pop()) {
    const [inner, depth, path] = next;
    if (typeof inner === "string" && !isText(inner))
      return { path, message: "holds half a character, or a sign that no text has" };
    if (typeof inner !== "object" || inner === null) continue;
    if (depth >= BOUNDS.depth) return { path, message: `is nested deeper than ${BOUNDS.depth} levels` };
    for (const [key, member] of Object.entries(inner)) open.push([member, depth + 1, `${path}/${key}`]);
  }
  return null;
}

/**
 * A checker of a schema, which is compiled when it is first asked: all of them at once cost the first click
 * after a start 0.3 s. Faults of branches that `oneOf` only tried are left out.
 */
export function checker<T>(schema: SchemaObject): Checker<T> {
  let compiled: ValidateFunction<T> | null = null;
  const check = (value: unknown): Checked<T> => {
    const plain = plainFault(value);
    if (plain !== null) return { ok: false, faults: [plain] };
    const validate = (compiled ??= ajv.compile<T>(schema));
    if (validate(value)) return { ok: true, value };
    const errors = validate.errors ?? [];
    const telling = errors.filter((e) => e.keyword !== "oneOf" && e.keyword !== "if");
    return {
      ok: false,
      faults: (telling.length > 0 ? telling : errors).map((e) => ({
        path: e.instancePath,
        ...(e.keyword === "additionalProperties" ? { unknownKey: String(e.params.additionalProperty) } : {}),
        message: sentence(e),
      })),
    };
  };
  return Object.assign(check, { schema });
}

/**
 * Schema of an object that has the keys of `T`, all of them and no others: a key that stands in the type
 * alone, or in the schema alone, does not compile.
 * @param required all, unless they are named
 */
export const objectOf = <T>(
  properties: { readonly [K in keyof T]-?: object },
  required: readonly (keyof T)[] = Object.keys(properties) as (keyof T)[],
) => ({ type: "object", required, additionalProperties: false, properties }) as const;

/** The first faults in a line, for places that have no form to show them in. */
export const faultText = (faults: readonly SchemaFault[]): string =>
  faults
    .slice(0, 3)
    .map((f) => `${f.path === "" ? "the file" : f.path}: ${f.message}`)
    .join("; ");
