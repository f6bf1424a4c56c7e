/**
 * Requests made at random, by a seed, from the document that describes the interface: bodies that fit their schema, bodies that
 * nearly do, and addresses with anything in them.
 */
import type { OpenApi, OpenApiOperation } from "@/contract/openapi";
import { evenOf } from "./messes/synthetic-shot";
import { type Even, oneOf, valueOf } from "./random-values";

export interface RandomRequest {
  /** `POST /api/runs/{id}/stop`. */
  readonly key: string;
  readonly method: string;
  readonly place: string;
  /** Undefined: none. */
  readonly body: string | undefined;
  /** Whether the body is one that its schema takes. */
  readonly fits: boolean;
}

/** What may stand for a part of an address; encoded as it is, or not. */
const WORDS = [
  ...["1", "0", "-1", "4294967296", "1e9", "test-film", "HO1", "v001", "quay-1"],
  ...["%2e%2e", "..%2f..%2fcanary", "%00", "%ff", "%", "%3Cimg%20src=x%3E", "=1+1", "%E2%80%AE"],
  ...["x".repeat(300), "'%3B%20DROP%20TABLE%20run"],
];
/** What takes the place of a part of a body. */
const VALUES: readonly unknown[] = [
  ...[null, true, -1, 0.5, 1e300, "", "../../canary", "/etc/passwd", "\u0000", "\ud800"],
  ...[[], {}, [[[]]], "<script>alert(1)</script>", "1-999999999/2,".repeat(50), "x".repeat(9_000)],
];

/** Replaces, drops or adds one member somewhere in a value. */
function spoil(value: unknown, even: Even): unknown {
  if (typeof value !== "object" || value === null || even() < 0.15) return oneOf(even, VALUES);
  const entries = Object.entries(value);
  const at = Math.floor(even() * entries.length);
  if (Array.isArray(value))
    return entries.length === 0
      ? [oneOf(even, VALUES)]
      : value.map((member: unknown, i) => (i === at ? spoil(member, even) : member));
  if (entries.length === 0 || even() < 0.2) return { ...value, stranger: oneOf(even, VALUES) };
  const [key, member] = entries[at]!;
  if (even() < 0.2) return Object.fromEntries(entries.filter(([name]) => name !== key));
  return { ...value, [key]: spoil(member, even) };
}

interface Parameter {
  readonly name: string;
  readonly in: string;
}

/** Without end: whoever takes them stops. @param without operations, by `key`, that are not to be asked for */
export function* randomRequests(
  { paths }: OpenApi,
  seed: number,
  without: ReadonlySet<string>,
): Generator<RandomRequest> {
  const even = evenOf(seed);
  const all = Object.entries(paths).flatMap(([place, methods]) =>
    Object.entries(methods).map(([method, operation]): [string, string, OpenApiOperation] => [
      method.toUpperCase(),
      place,
      operation,
    ]),
  );
  const asked = all.filter(([method, place]) => !without.has(`${method} ${place}`));
  for (;;) {
    const [method, place, operation] = oneOf(even, asked);
    const query = (operation.parameters as readonly Parameter[])
      .filter((p) => p.in === "query" && even() < 0.6)
      .map(({ name }) => `${name}=${oneOf(even, WORDS)}`)
      .join("&");
    const schema = (
      operation.requestBody as { content: { "application/json": { schema: object } } } | undefined
    )?.content["application/json"].schema;
    const good = schema === undefined ? undefined : valueOf(schema, even);
    const fits = even() < 0.4;
    yield {
      key: `${method} ${place}`,
      method,
      place: place.replace(/\{\w+\}/g, () => oneOf(even, WORDS)) + (query === "" ? "" : `?${query}`),
      body: good === undefined ? undefined : JSON.stringify(fits ? good : spoil(good, even)),
      fits,
    };
  }
}
