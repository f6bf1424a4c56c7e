/** Calls to the server: JSON in, typed data out; an error that was told arrives as ApiFailure. */
import type { CameraMove } from "@/core/plan/camera-move";
import { WHO_HEADER } from "@/contract/who";
import { loadPage, signInPage } from "./load-page";
import { whoNow } from "./who-now";
import type { ApiError } from "@/contract/api-error";

/** What the server told: a sentence to show, and faults with the fields that they belong to. */
export class ApiFailure extends Error implements ApiError {
  readonly code: string;
  readonly faults: ApiError["faults"];
  constructor({ code, message, faults }: ApiError) {
    super(message);
    this.name = "ApiFailure";
    this.code = code;
    this.faults = faults;
  }
}

/**
 * Said where no answer comes, or one that is none of ours. What is shown is asked for again by itself; what
 * somebody wanted done is not done again by itself, and it may have been done before the answer was lost.
 */
const unreachable = (method: string): ApiError => ({
  code: "server-away",
  message:
    method === "GET"
      ? "The server does not answer. Nothing is lost; this page goes on by itself when it is back."
      : NOT_DONE("server"),
  faults: [],
});

const NOT_DONE = (who: string): string =>
  `The ${who} does not answer, so this may not be done. Nothing that you entered is lost: do it again when the page is back.`;

/** The server's word for a database that is away is that of a page which shows something. */
const toldFor = (method: string, error: ApiError): ApiError =>
  method !== "GET" && error.code === "database-away" ? { ...error, message: NOT_DONE("database") } : error;

/** Every question of the pages goes through here: one place for what is told when it fails. */
async function answerOf(
  method: string,
  path: string,
  body?: unknown,
  signal?: AbortSignal,
): Promise<Response> {
  const who = whoNow();
  let response: Response;
  try {
    response = await fetch(path, {
      method,
      ...(signal === undefined ? {} : { signal }),
      headers: {
        ...(method === "GET" || who === null ? {} : { [WHO_HEADER]: encodeURIComponent(who) }),
        ...(body === undefined
          ? {}
          : { "content-type": body instanceof Blob ? "application/octet-stream" : "application/json" }),
      },
      ...(body === undefined ? {} : { body: body instanceof Blob ? body : JSON.stringify(body) }),
    });
  } catch (error) {
    // Nobody waits for the answer any more.
    if (signal?.aborted === true) throw error;
    throw new ApiFailure(unreachable(method));
  }
  if (response.ok) return response;
  const answer = (await response.json().catch(() => null)) as { error?: ApiError } | null;
  if (answer?.error?.code === "sign-in-needed") goToSignIn();
  throw new ApiFailure(
    answer?.error === undefined
      ? {
          ...unreachable(method),
          message: `The server answered ${response.status} and gave no reason.`,
        }
      : toldFor(method, answer.error),
  );
}

/** The session is over: what the page shows is there again after the sign-in. */
function goToSignIn(): void {
  const { pathname, search } = window.location;
  if (pathname === "/sign-in") return;
  loadPage(signInPage(pathname + search));
}

const call = async <T>(method: string, path: string, body?: unknown, signal?: AbortSignal): Promise<T> =>
  (await (await answerOf(method, path, body, signal)).json().catch(() => null)) as T;

/** @param signal ends the question when nobody waits for its answer any more */
export const get = <T>(path: string, signal?: AbortSignal): Promise<T> =>
  call<T>("GET", path, undefined, signal);
/** Asks the server to do something. @throws ApiFailure, or what the browser says where no server answers */
export const post = <T>(path: string, body: unknown = {}): Promise<T> => call<T>("POST", path, body);
/** Asks for something that takes its time and is told on the way, a line of JSON each. */
export async function postForLines<T>(
  path: string,
  body: unknown,
  onLine: (line: T) => void,
  signal: AbortSignal,
): Promise<void> {
  const response = await answerOf("POST", path, body, signal);
  const reader = response.body!.pipeThrough(new TextDecoderStream()).getReader();
  let rest = "";
  for (;;) {
    const { done, value } = await reader.read();
    const lines = (rest + (value ?? "")).split("\n");
    rest = done ? "" : lines.pop()!;
    for (const line of lines) if (line !== "") onLine(JSON.parse(line) as T);
    if (done) return;
  }
}

/** Changes something that is there. */
export const patch = <T>(path: string, body: unknown): Promise<T> => call<T>("PATCH", path, body);
/** Sends bytes as they are. */
export const put = <T>(path: string, bytes: Blob, signal: AbortSignal): Promise<T> =>
  call<T>("PUT", path, bytes, signal);
/** The same, for what is taken away. */
export const remove = <T>(path: string, body?: unknown): Promise<T> => call<T>("DELETE", path, body);

/** What names a shot in addresses. */
export interface ShotName {
  /** The project's name in addresses. */
  readonly project: string;
  /** Of the shot. */
  readonly code: string;
}

/** Of all that is known of a shot, what addresses are made from. */
export const nameOfShot = ({
  project,
  code,
}: {
  readonly project: { readonly slug: string };
  readonly code: string;
}): ShotName => ({
  project: project.slug,
  code,
});

/** What the server knows of a project. */
export const projectApi = (slug: string): string => `/api/projects/${encodeURIComponent(slug)}`;

/** Ledger of a project. */
export const projectPage = (slug: string): string => `/p/${encodeURIComponent(slug)}`;

/** Where frames of something else are taken in. @param folder absolute, on the server; blank: it is chosen there */
export const takeInPage = (slug: string, folder: string): string =>
  `${projectPage(slug)}/take-in${folder === "" ? "" : `?${new URLSearchParams({ folder })}`}`;

/** Page of a shot. */
export const shotPage = ({ project, code }: ShotName): string =>
  `/p/${encodeURIComponent(project)}/shots/${encodeURIComponent(code)}`;

/** What the server knows of a shot. */
export const shotApi = ({ project, code }: ShotName): string =>
  `/api/projects/${encodeURIComponent(project)}/shots/${encodeURIComponent(code)}`;

/**
 * Address of a frame's picture; it carries the content, so that a patched frame is never shown from an old
 * copy.
 */
export const pictureUrl = (sequenceId: number, frame: number, content: string): string =>
  `/api/sequences/${sequenceId}/frames/${frame}?c=${content}`;

/** Address of what there is so far of a frame. @param state changes when there is more to see */
export const soFarUrl = (sequenceId: number, frame: number, state: string): string =>
  `/api/sequences/${sequenceId}/frames/${frame}/so-far?s=${state}`;

/** Address of the file that a frame's present one replaced. */
export const beforeUrl = (sequenceId: number, frame: number, file: string): string =>
  `/api/sequences/${sequenceId}/frames/${frame}/before?file=${encodeURIComponent(file)}`;

/** Address of a proof's picture, by its content. */
export const proofUrl = (sequenceId: number, runId: number, frame: number, content: string): string =>
  `/api/sequences/${sequenceId}/proofs/${runId}/${frame}?c=${content}`;

/** The very file of a picture, to be saved, and not what browsers show of it. @param url of the picture */
export const fileUrl = (url: string): string => `${url}&as=file`;

export interface Thumbnail {
  /** Path of the scene file, as the plan has it. */
  readonly scene: string;
  /** Hash of the scene and all it uses: the address carries the content. */
  readonly version: string;
  /** As the scene calls it. */
  readonly camera: string;
  /** Scene time, fractions allowed. */
  readonly time: number;
  /** A move of the plan's own: where in it the picture lies. */
  readonly move?: { readonly move: CameraMove; readonly index: number; readonly frames: number };
}

/** The version of the scene is part of it, so that a changed scene is another picture. */
export function thumbnailUrl(shot: ShotName, { scene, version, camera, time, move }: Thumbnail): string {
  const query = new URLSearchParams({
    scene,
    v: version,
    camera,
    time: String(time),
    ...(move === undefined ? {} : { move: JSON.stringify(move) }),
  });
  return `${shotApi(shot)}/thumbnail?${query}`;
}

/** The sentence of whatever was thrown. */
export const messageOf = (error: unknown): string => (error instanceof Error ? error.message : String(error));
