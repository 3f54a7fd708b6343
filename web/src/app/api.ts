/** The one way to the server: typed by the generated OpenAPI types, errors as Problem. */
import createClient, { type Middleware } from "openapi-fetch";
import type { components, paths } from "./schema";

export type Schemas = components["schemas"];
export type Document = Schemas["Setup"];
export type Unit = Schemas["Unit"];
export type Camera = Schemas["Camera"];
export type Figure = Schemas["Figure"];
export type Look = Schemas["Look"];
export type Mix = Schemas["MixOut"];
export type Mark = Schemas["MarkReading"];
export type Grip = Schemas["Grip"];
export type Furniture = Schemas["Furniture"];
export type Piece = Schemas["PieceOut"];
export type Opening = Schemas["Opening"];
export type Attachment = Schemas["AttachmentOut"];
export type Inspection = Schemas["Inspection"];
export type Landing = Schemas["Landing"];
export type LevelMap = Schemas["LevelMap"];
export type CameraFacts = Schemas["CameraFacts"];
export type Head = Schemas["HeadOut"];
export type Constants = Schemas["Constants"];
export type SetupRecord = Schemas["SetupOut"];
export type Judged = Schemas["Judged"];
export type Walked = Schemas["Walked"];
export type Production = Schemas["ProductionOut"];
export type Point = [number, number, number];

/** An answer that is not the wanted one (RFC 9457); status 0 when the server was not reached. */
export class Problem extends Error {
  constructor(
    readonly status: number,
    message: string,
    readonly path = "",
    readonly body: Record<string, unknown> = {},
    /** Seconds after which the server asks to be tried again. */
    readonly after = 0,
  ) {
    super(message);
  }
}

let csrf = "",
  person: string | null = null;

/** Who this page is open for, and the token that their changes carry. */
export function setPerson(session: { username: string | null; csrf: string }) {
  csrf = session.csrf;
  person = session.username;
}
export const currentUser = () => person;

/** The token as it is now: another window may have renewed it. */
const token = () => globalThis.document?.cookie.match(/(?:^|; )csrftoken=([^;]+)/)?.[1] ?? csrf;

/** Changes say whose they are: another window may have signed somebody else in. */
const headers = (): Record<string, string> => ({
  "X-CSRFToken": token(),
  ...(person === null ? {} : { "X-Person": encodeURIComponent(person) }),
});

const guard: Middleware = {
  onRequest({ request }) {
    if (request.method !== "GET")
      for (const [name, value] of Object.entries(headers())) request.headers.set(name, value);
    return request;
  },
  async onResponse({ response }) {
    if (response.ok) return response;
    throw await problemOf(response);
  },
  onError({ error }) {
    if (error instanceof DOMException && error.name === "AbortError") throw error;
    throw new Problem(0, "The server cannot be reached.");
  },
};

async function problemOf(response: Response) {
  const body = (await response.json().catch(() => ({}))) as Record<string, unknown>;
  return new Problem(
    response.status,
    String(body.detail ?? response.statusText),
    String(body.path ?? ""),
    body,
    Number(response.headers.get("Retry-After") ?? 0) || 0,
  );
}

export const api = createClient<paths>({ baseUrl: "/" });
api.use(guard);

/**
 * The data of a call; guard has thrown on every other answer. Name the type: the client loosens
 * tuples to arrays.
 */
export async function got<T>(call: Promise<{ data?: unknown }>): Promise<T> {
  return (await call).data as T;
}

/** Bytes of a layer; the browser keeps them for good, since the key is their content's hash. */
export async function fetchLayer(
  setup: number,
  key: string,
  signal: AbortSignal,
): Promise<ArrayBuffer> {
  const response = await fetch(`/api/setups/${setup}/layers/${key}`, { signal }).catch(
    (error: unknown) => {
      if (signal.aborted) throw error;
      throw new Problem(0, "The server cannot be reached.");
    },
  );
  // No content: it was given up for a newer one, which is nobody's fault.
  if (response.status === 204) throw new Problem(410, "This was given up for something newer.");
  if (!response.ok) throw await problemOf(response);
  return response.arrayBuffer();
}

/**
 * Post at once, before anything else has its turn: what follows the hand must not wait for the
 * screen to be drawn.
 */
async function posted(path: string, body: unknown, signal?: AbortSignal): Promise<Response> {
  const response = await fetch(path, {
    method: "POST",
    // A form says of itself what it is, with the seam between its parts.
    headers:
      body instanceof FormData ? headers() : { ...headers(), "Content-Type": "application/json" },
    body: body instanceof File || body instanceof FormData ? body : JSON.stringify(body),
    signal: signal ?? null,
  }).catch((error: unknown) => {
    if (signal?.aborted) throw error;
    throw new Problem(0, "The server cannot be reached.");
  });
  if (!response.ok) throw await problemOf(response);
  return response;
}

/**
 * What a draft looks like: what its frame is mixed from goes to `begun` at once, what the meter
 * reads is returned.
 */
export async function fetchLook(
  setup: number,
  question: Schemas["LookIn"],
  begun: (mix: Mix) => void,
): Promise<Look> {
  const response = await posted(`/api/setups/${setup}/look`, question);
  for await (const { mix, look, problem } of linesOf<Schemas["LookLine"]>(response)) {
    if (problem) throw new Problem(problem.status, problem.detail, problem.path);
    if (mix) begun(mix);
    if (look) return look;
  }
  throw new Problem(0, "The server cannot be reached.");
}

/** JSON lines of an answer, each as it comes. */
async function* linesOf<Line>(response: Response): AsyncGenerator<Line> {
  const reader = response.body!.pipeThrough(new TextDecoderStream()).getReader();
  let text = "";
  for (;;) {
    const { done, value } = await reader.read().catch(() => {
      throw new Problem(0, "The server cannot be reached.");
    });
    if (done) return;
    const lines = (text + value).split("\n");
    text = lines.pop()!;
    for (const line of lines) yield JSON.parse(line) as Line;
  }
}

/** Width of the spot that a point makes at each pixel [px], for a draft or what is stored. */
export async function fetchLens(
  setup: number,
  document: Document | null,
  signal: AbortSignal,
): Promise<Float32Array> {
  const response = await posted(`/api/setups/${setup}/lens`, { document }, signal);
  const halves = new DataView(await response.arrayBuffer()),
    out = new Float32Array(halves.byteLength / 2);
  for (let k = 0; k < out.length; k++) {
    // IEEE 754 half floats, never negative here.
    const bits = halves.getUint16(2 * k, true),
      exponent = bits >> 10,
      part = bits & 1023;
    out[k] = exponent === 0 ? part * 2 ** -24 : (1 + part / 1024) * 2 ** (exponent - 15);
  }
  return out;
}

/** Bring a set-up file in as it is: the server reads it and says what is wrong with it. */
export async function importSetup(scene: number, file: File): Promise<SetupRecord> {
  return (await posted(`/api/scenes/${scene}/import`, file)).json() as Promise<SetupRecord>;
}

/** Bring a model file in as a scan of a production; `up` is an OBJ's axis. */
export async function bringModel(
  production: number,
  name: string,
  up: "y" | "z",
  file: File,
  signal: AbortSignal,
): Promise<Schemas["ScanOut"]> {
  const form = new FormData();
  form.set("name", name);
  form.set("up", up);
  form.set("file", file);
  const path = `/api/productions/${production}/scans`;
  return (await posted(path, form, signal)).json() as Promise<Schemas["ScanOut"]>;
}

/** Bring a picture in as a still of a production. */
export async function bringStill(
  production: number,
  title: string,
  file: File,
  signal: AbortSignal,
): Promise<Schemas["StillOut"]> {
  const form = new FormData();
  form.set("title", title);
  form.set("file", file);
  const path = `/api/productions/${production}/stills`;
  return (await posted(path, form, signal)).json() as Promise<Schemas["StillOut"]>;
}
