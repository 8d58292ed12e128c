/** Talks to /api/v1: adds the CSRF token, turns problem details into one error type. Parses nothing of the
 *  trade. */
import { note } from "./kept";
import type { components } from "./schema.generated";

export type Schemas = components["schemas"];
/** A field's type where it is said, for fields that may be left out. */
export type Present<T> = Exclude<T, undefined>;
export type FieldProblem = Schemas["FieldProblem"];

export class Refused extends Error {
  constructor(readonly problem: Schemas["Problem"]) {
    super(problem.detail);
  }
  /** The complaint about one field, by the end of its JSON pointer; without any pointer match the first
   *  one. */
  about(pointer: string): FieldProblem | undefined {
    return this.problem.problems?.find((one) => one.pointer.endsWith(pointer));
  }
}

/** The server could not be reached: what was typed is kept and sent again. */
export class Unreachable extends Error {}

/** Not refused for what it says, but for who says it or when: to be kept and sent again. */
export function mayPassLater(failure: unknown): boolean {
  return (
    failure instanceof Unreachable ||
    (failure instanceof Refused &&
      ([401, 403, 408, 429].includes(failure.problem.status) || failure.problem.status >= 500))
  );
}

let token = "";
export function setToken(value: string): void {
  token = value;
}

interface Sent {
  /** Sent as JSON. */
  body?: unknown;
  /** Sent as it is: a file, whose kind the server tells by its content. */
  raw?: BodyInit;
  query?: Record<string, string | number | boolean | null | undefined>;
  /** What an answer must have to be one. */
  names?: readonly string[];
}

const NOT_ANSWERED = {
  title: "Cavatum made a mistake",
  detail: "Cavatum could not answer. Nothing was changed.",
};

/** One operation of the server. Screens call it by the operation's name, see operations.generated.ts. */
export async function call<T>(method: string, path: string, sent: Sent = {}): Promise<T> {
  const { body, raw, query = {}, names = [] } = sent;
  const asked = new URLSearchParams();
  for (const [name, value] of Object.entries(query))
    if (value !== undefined && value !== null) asked.set(name, String(value));
  const type = raw instanceof Blob ? "application/octet-stream" : "application/json";
  let response: Response;
  try {
    response = await fetch(`/api/v1${path}${asked.size ? `?${asked}` : ""}`, {
      method,
      headers: {
        Accept: "application/json",
        ...(body !== undefined || raw ? { "Content-Type": type } : {}),
        "X-CSRFToken": token,
      },
      body: raw ?? (body === undefined ? null : JSON.stringify(body)),
    });
  } catch {
    throw new Unreachable("Cavatum does not answer.");
  }
  note(response);
  if ([502, 503, 504].includes(response.status)) throw new Unreachable("Cavatum does not answer just now.");
  if (response.status === 204) return undefined as T;
  const data: unknown = await response.json().catch(() => null);
  if (!response.ok) throw new Refused(isProblem(data) ? data : { ...NOT_ANSWERED, status: response.status });
  if (!hasAll(data, names)) throw new Refused({ ...NOT_ANSWERED, status: 500 });
  return data as T;
}

function hasAll(data: unknown, names: readonly string[]): boolean {
  return typeof data === "object" && data !== null && names.every((name) => name in data);
}

function isProblem(data: unknown): data is Schemas["Problem"] {
  return typeof data === "object" && data !== null && "detail" in data && "status" in data;
}
