/**
 * One wrapper for every route handler: checked body in, JSON or a told error out. No stack trace leaves the
 * server.
 */
import { type Who, WHO_HEADER } from "@/contract/who";
import { nameFault } from "@/core/naming/name";
import { BOUNDS } from "@/contract/bounds";
import pino from "pino";
import type { Checked } from "@/contract/validate";
import { TallyError } from "../errors";
import { type FaultCode, FAULTS, fileFaultCode, sayFault } from "@/contract/faults";
import { isDatabaseAway } from "../db/away";
import { noteStatus } from "./audit-trail";
import type { ApiError } from "@/contract/api-error";

const log = pino({ name: "plain-tally" });

/** A file, a folder or a share that says no: a matter of the place, and not of this program. */
const isFileError = (error: unknown): error is NodeJS.ErrnoException & { readonly code: string } => {
  const { code, syscall } = error as NodeJS.ErrnoException;
  return typeof code === "string" && typeof syscall === "string";
};

/**
 * What was told goes out with its code; anything else is a fault of the house, logged here and told as such.
 */
export function errorResponse(error: unknown): Response {
  const answer = (code: FaultCode, message: string, faults: ApiError["faults"]): Response =>
    Response.json({ error: { code, message, faults } satisfies ApiError }, { status: FAULTS[code].status });
  if (error instanceof TallyError) return answer(error.code, error.message, error.faults);
  if (isDatabaseAway(error)) return answer("database-away", sayFault("database-away"), []);
  if (isFileError(error)) {
    log.warn(error);
    return answer(fileFaultCode(error.code), `A file cannot be read or written now (${error.code}).`, []);
  }
  log.error(error);
  return answer("server-fault", sayFault("server-fault"), []);
}

/** Runs a handler and turns what it returns or throws into a response. */
export async function respond(work: () => Promise<unknown>): Promise<Response> {
  const response = await answerOf(work);
  await noteStatus(response.status);
  return response;
}

async function answerOf(work: () => Promise<unknown>): Promise<Response> {
  try {
    const value = await work();
    return value instanceof Response ? value : Response.json(value ?? { ok: true });
  } catch (error) {
    return errorResponse(error);
  }
}

/** The body as it is, as far as it may go: what is longer is refused before all of it is there. */
export async function bytesOfBody(request: Request, most: number = BOUNDS.bodyBytes): Promise<Buffer> {
  const parts: Uint8Array[] = [];
  let bytes = 0;
  for (const reader = request.body?.getReader(); reader !== undefined;) {
    const part = await reader.read();
    if (part.done) break;
    bytes += part.value.length;
    if (bytes > most) {
      await reader.cancel();
      throw new TallyError("body-too-large", { most });
    }
    parts.push(part.value);
  }
  return Buffer.concat(parts);
}

/** @throws TallyError `body-broken` */
function parseBody(text: string): unknown {
  try {
    return JSON.parse(text);
  } catch {
    throw new TallyError("body-broken");
  }
}

/** @throws TallyError `body-wrong`, with the fields */
function requireShape<T>(value: unknown, check: (value: unknown) => Checked<T>): T {
  const checked = check(value);
  if (!checked.ok) {
    const faults = checked.faults.map((f) => ({
      field: f.path.split("/").at(-1) ?? "",
      code: "body-wrong",
      message: f.message,
    }));
    throw new TallyError("body-wrong", {
      message: faults.map((f) => `${f.field} ${f.message}`).join("; "),
    }).with(faults);
  }
  return checked.value;
}

/** Reads a body through its schema. */
export const readBody = async <T>(request: Request, check: (value: unknown) => Checked<T>): Promise<T> =>
  requireShape(parseBody((await bytesOfBody(request)).toString("utf8")), check);

/** Reads the query of an address through a schema. @param read makes typed values of its texts */
export const readQuery = <T>(
  request: Request,
  check: (value: unknown) => Checked<T>,
  read: (query: URLSearchParams) => unknown,
): T => requireShape(read(new URL(request.url).searchParams), check);

/**
 * The name that whoever asks has given themselves; null where they gave none.
 * @throws TallyError `who-wrong`
 */
export function whoOf(request: Request): Who {
  const header = request.headers.get(WHO_HEADER);
  if (header === null || header === "") return null;
  let name: string | null = null;
  try {
    name = decodeURIComponent(header);
  } catch {
    // Told below.
  }
  const fault = name === null ? "is not percent-encoded" : nameFault(name, BOUNDS.personName);
  if (fault !== null) throw new TallyError("who-wrong", { fault });
  return name;
}

/** What the lines of a log shall hold; blank for all. */
export const searchOf = (request: Request): string =>
  (new URL(request.url).searchParams.get("search") ?? "").slice(0, BOUNDS.search);

/** A shot's name from its address: `project/CODE`, as on the command line. */
export const nameOf = ({ project, code }: { readonly project: string; readonly code: string }): string =>
  `${project}/${code}`;

/** A whole number from a path segment, or a told error. */
export function idOf(text: string): number {
  if (!/^-?\d{1,10}$/.test(text))
    throw new TallyError("address-wrong", { message: `"${text}" is not a number.` });
  return Number(text);
}
