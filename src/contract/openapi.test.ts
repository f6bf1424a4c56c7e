import Ajv2020 from "ajv/dist/2020";
import fs from "node:fs";
import path from "node:path";
import { LOOKUPS } from "./lookups";
import { openApi, type OpenApiOperation } from "./openapi";
import { OPERATION_BODIES } from "./operation-bodies";

const API = path.join(__dirname, "../app/api");

/** Method and route, with the source of its handler. */
const handlers = fs
  .readdirSync(API, { recursive: true, encoding: "utf8" })
  .filter((file) => path.basename(file) === "route.ts")
  .flatMap((file) =>
    fs
      .readFileSync(path.join(API, file), "utf8")
      .split(/(?=export (?:async function|function|const) (?:GET|POST|PUT|PATCH|DELETE)\b)/)
      .flatMap((source) => {
        const [, method] = /^export (?:async function|function|const) (\w+)/.exec(source) ?? [];
        return method === undefined ? [] : [{ key: `${method} /api/${path.dirname(file)}`, source }];
      }),
  );
const document = openApi("1.2.3");
const operations = Object.entries(document.paths).flatMap(([place, methods]) =>
  Object.entries(methods).map(([method, operation]) => ({
    key: `${method.toUpperCase()} ${place.replace(/\{(\w+)\}/g, "[$1]")}`,
    operation,
  })),
);
const of = (key: string): OpenApiOperation => operations.find((one) => one.key === key)!.operation;

test("it describes every route that there is, and no other", () => {
  expect(handlers.length).toBeGreaterThan(100);
  expect(operations.map(({ key }) => key).sort()).toEqual(handlers.map(({ key }) => key).sort());
});

test("the body of each is what its route reads it through", () => {
  for (const { key, source } of handlers) {
    const [, reads] = /readBody\(request, (check\w+)\)/.exec(source) ?? [];
    expect([key, Object.keys(OPERATION_BODIES[key] ?? {})]).toEqual([
      key,
      reads === undefined ? [] : [reads],
    ]);
  }
});

test("every lookup is told in words, and names the parts of its query", () => {
  const lookups = handlers.filter(({ key }) => key.startsWith("GET"));
  expect(Object.keys(LOOKUPS).sort()).toEqual(lookups.map(({ key }) => key).sort());
  expect(of("GET /api/news").parameters).toEqual([
    {
      name: "since",
      in: "query",
      required: true,
      description: "ISO 8601; needed",
      schema: { type: "string" },
    },
  ]);
});

test("names of operations are different, and addresses have their parts", () => {
  const ids = operations.map(({ operation }) => operation.operationId);
  expect(new Set(ids).size).toBe(ids.length);
  expect(ids).toContain("postRunsIdStop");
  for (const { key, operation } of operations)
    expect(operation.parameters.filter((p) => (p as { in: string }).in === "path")).toHaveLength(
      key.split("[").length - 1,
    );
});

test("it says whom each is for", () => {
  expect(of("GET /api/health")["x-needs"]).toBe("nobody");
  expect(of("POST /api/runs/[id]/stop")["x-needs"]).toBe("run");
  expect(of("GET /api/people")["x-needs"]).toBe("keep-house");
  expect(Object.keys(of("POST /api/runs/[id]/stop").responses)).toEqual(["200", "401", "403", "default"]);
});

test("bodies are schemas of the dialect that OpenAPI 3.1 speaks", () => {
  const ajv = new Ajv2020({ strict: false, formats: { name: true } });
  const bodies = operations.flatMap(({ operation }) => {
    const body = operation.requestBody as { content: { "application/json": { schema: object } } } | undefined;
    return body === undefined ? [] : [body.content["application/json"].schema];
  });
  expect(bodies.length).toBeGreaterThan(40);
  for (const schema of bodies) expect(() => ajv.compile(schema)).not.toThrow();
});

test("it is JSON as it stands: no schema is lost on the way", () => {
  expect(JSON.parse(JSON.stringify(document))).toEqual(document);
});
