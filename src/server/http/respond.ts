/** One wrapper for every route handler: checked body in, JSON or a told error out. No stack trace leaves the server. */
import pino from "pino";
import type { ApiError } from "@/contract/views";
import type { Checked } from "@/contract/validate";
import { isDatabaseAway } from "../db/pool";
import { TallyError } from "../errors";

const log = pino({ name: "plain-tally" });

const CONFLICT = new Set([
  "plan-outdated",
  "plan-fixed",
  "run-not-active",
  "run-active",
  "run-finished",
  "scene-changed",
]);

function statusOf(error: TallyError): number {
  if (error.code.endsWith("-unknown")) return 404;
  if (error.code === "no-database") return 503;
  return CONFLICT.has(error.code) ? 409 : 422;
}

function errorResponse(error: unknown): Response {
  const respond = (status: number, body: ApiError): Response => Response.json({ error: body }, { status });
  if (error instanceof TallyError)
    return respond(statusOf(error), { code: error.code, message: error.message, faults: error.faults });
  if (isDatabaseAway(error))
    return respond(503, {
      code: "database-away",
      message: "The database does not answer. Nothing is lost; this page goes on by itself when it is back.",
      faults: [],
    });
  log.error(error);
  return respond(500, {
    code: "server-fault",
    message: "The server made a mistake; its log says which. Nothing was changed.",
    faults: [],
  });
}

/** Runs a handler and turns what it returns or throws into a response. */
export async function respond(work: () => Promise<unknown>): Promise<Response> {
  try {
    const value = await work();
    return value instanceof Response ? value : Response.json(value ?? { ok: true });
  } catch (error) {
    return errorResponse(error);
  }
}

/** Reads a body through its schema. */
export async function readBody<T>(request: Request, check: (value: unknown) => Checked<T>): Promise<T> {
  const value: unknown = await request.json().catch(() => {
    throw new TallyError("body-broken", "The request is not JSON.");
  });
  const checked = check(value);
  if (!checked.ok) {
    const faults = checked.faults.map((f) => ({
      field: f.path.split("/").at(-1) ?? "",
      code: "body-wrong",
      message: f.message,
    }));
    throw new TallyError("body-wrong", faults.map((f) => `${f.field} ${f.message}`).join("; "), faults);
  }
  return checked.value;
}

const LONGEST_SEARCH = 200;

/** What the lines of a log shall hold; blank for all. */
export const searchOf = (request: Request): string =>
  (new URL(request.url).searchParams.get("search") ?? "").slice(0, LONGEST_SEARCH);

/** A whole number from a path segment, or a told error. */
export function idOf(text: string): number {
  if (!/^-?\d{1,10}$/.test(text)) throw new TallyError("address-wrong", `"${text}" is not a number.`);
  return Number(text);
}
