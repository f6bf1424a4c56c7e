/**
 * The HTTP interface as an OpenAPI 3.1 document, made from what the server itself goes by: operations with their roles, and the
 * schemas that bodies are read through. Bodies of answers are described in words: their types stand in `src/contract`.
 */
import { mayDo, type Role } from "@/core/access/roles";
import { LOOKUPS } from "./lookups";
import { OPERATION_BODIES } from "./operation-bodies";
import { OPEN_ROUTES, OPERATIONS } from "./operations";

export interface OpenApiOperation {
  readonly operationId: string;
  readonly summary: string;
  readonly tags: readonly string[];
  readonly "x-needs": Role | "nobody";
  readonly parameters: readonly object[];
  readonly requestBody?: object;
  readonly responses: Readonly<Record<string, object>>;
}

export interface OpenApi {
  readonly openapi: "3.1.0";
  readonly info: object;
  readonly paths: Readonly<Record<string, Readonly<Record<string, OpenApiOperation>>>>;
  readonly components: object;
}

const ERROR = { $ref: "#/components/schemas/Error" } as const;
const refusal = (description: string): object => ({
  description,
  content: { "application/json": { schema: ERROR } },
});

/** Numbers of rows and of frames; all else in an address is a name. */
const PARAMETERS: Readonly<Record<string, object>> = {
  id: { type: "integer", minimum: 0 },
  run: { type: "integer", minimum: 0 },
  frame: { type: "integer" },
};

/** `/api/runs/[id]` as `/api/runs/{id}`. */
const pathOf = (route: string): string => route.replace(/\[(\w+)\]/g, "{$1}");

/** A word for programs: `postRunsIdStop`. */
const idOf = (method: string, route: string): string =>
  method.toLowerCase() +
  route
    .replace(/^\/api/, "")
    .split(/[^A-Za-z0-9]+/)
    .filter((word) => word !== "")
    .map((word) => word[0]!.toUpperCase() + word.slice(1))
    .join("");

/** "Stopped a run" of what is done: a list of operations says them as they are told afterwards. */
const sentence = (text: string): string => `${text[0]!.toUpperCase()}${text.slice(1)}.`;

/** Said of operations that stand in no table of deeds, because they come before one. */
const OPEN_SUMMARIES: Readonly<Record<string, string>> = {
  "POST /api/sign-in": "signs in with name and key",
};

function operation(key: string): OpenApiOperation {
  const [method = "", route = ""] = key.split(" ");
  const { needs, did } = OPERATIONS[key] ?? { needs: "look" as const, did: null };
  const lookup = LOOKUPS[key];
  const [body] = Object.values(OPERATION_BODIES[key] ?? {});
  const isOpen = OPEN_ROUTES.has(key);
  const inPath = [...route.matchAll(/\[(\w+)\]/g)].map(([, name = ""]) => ({
    name,
    in: "path",
    required: true,
    schema: PARAMETERS[name] ?? { type: "string" },
  }));
  const inQuery = Object.entries(lookup?.query ?? {}).map(([name, description]) => ({
    name,
    in: "query",
    required: description.endsWith("needed"),
    description,
    schema: { type: "string" },
  }));
  return {
    operationId: idOf(method, route),
    summary: sentence(lookup?.tells ?? OPEN_SUMMARIES[key] ?? did ?? route),
    tags: [route.split("/")[2]!],
    "x-needs": isOpen ? "nobody" : needs,
    parameters: [...inPath, ...inQuery],
    ...(body === undefined
      ? {}
      : { requestBody: { required: true, content: { "application/json": { schema: body.schema } } } }),
    responses: {
      "200": {
        description: "Done, or what was asked for.",
        content: { [lookup?.type ?? "application/json"]: {} },
      },
      ...(isOpen ? {} : { "401": refusal("Nobody has signed in, where people have to.") }),
      ...(isOpen || mayDo("look", needs) ? {} : { "403": refusal(`It takes the role ${needs}.`) }),
      default: refusal("Why not, in one sentence, with a code that stays."),
    },
  };
}

/** @param version of the program */
export function openApi(version: string): OpenApi {
  const keys = [...Object.keys(LOOKUPS), ...Object.keys(OPERATIONS), ...OPEN_ROUTES].filter((key) =>
    key.includes(" /api/"),
  );
  const paths: Record<string, Record<string, OpenApiOperation>> = {};
  for (const key of [...new Set(keys)].sort((a, b) => (a.split(" ")[1]! < b.split(" ")[1]! ? -1 : 1))) {
    const [method = "", route = ""] = key.split(" ");
    (paths[pathOf(route)] ??= {})[method.toLowerCase()] = operation(key);
  }
  return {
    openapi: "3.1.0",
    info: {
      title: "Plain Tally",
      version,
      description:
        "What the pages ask for, programs may ask for, too. Alone on loopback nobody signs in; over the network a session is begun with `POST /api/sign-in`.",
    },
    paths,
    components: {
      schemas: {
        Error: {
          type: "object",
          required: ["error"],
          properties: {
            error: {
              type: "object",
              required: ["code", "message", "faults"],
              properties: {
                code: { type: "string", description: "stays the same over versions" },
                message: { type: "string", description: "one sentence for people" },
                faults: {
                  type: "array",
                  items: {
                    type: "object",
                    required: ["field", "code", "message"],
                    properties: {
                      field: { type: "string" },
                      code: { type: "string" },
                      message: { type: "string" },
                    },
                  },
                },
              },
            },
          },
        },
      },
      securitySchemes: { session: { type: "apiKey", in: "cookie", name: "plain-tally-session" } },
    },
  };
}
