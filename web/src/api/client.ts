/** Talks to /api/v1: adds the CSRF token, turns problem details into one error type. Parses nothing of the trade. */
import type { components } from "./schema.generated";

export type Schemas = components["schemas"];
/** A field's type where it is said, for fields that may be left out. */
export type Present<T> = Exclude<T, undefined>;
export type FieldProblem = Schemas["FieldProblem"];

export class Refused extends Error {
  constructor(readonly problem: Schemas["Problem"]) {
    super(problem.detail);
  }
  /** The complaint about one field, by the end of its JSON pointer; without any pointer match the first one. */
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

export async function call<T>(method: string, path: string, body?: unknown, raw?: BodyInit): Promise<T> {
  let response: Response;
  try {
    response = await fetch(`/api/v1${path}`, {
      method,
      headers: {
        Accept: "application/json",
        ...(body !== undefined || raw ? { "Content-Type": "application/json" } : {}),
        "X-CSRFToken": token,
      },
      body: raw ?? (body === undefined ? null : JSON.stringify(body)),
    });
  } catch {
    throw new Unreachable("Cavatum does not answer.");
  }
  if ([502, 503, 504].includes(response.status)) throw new Unreachable("Cavatum does not answer just now.");
  if (response.status === 204) return undefined as T;
  const data: unknown = await response.json().catch(() => null);
  if (response.ok) return data as T;
  throw new Refused(
    isProblem(data)
      ? data
      : {
          title: "Cavatum made a mistake",
          status: response.status,
          detail: "Cavatum could not answer. Nothing was changed.",
        },
  );
}

/** A file as the request's body; its kind is told by its content. */
export async function sendFile(file: File): Promise<Schemas["FileAnswer"]> {
  let response: Response;
  try {
    response = await fetch(`/api/v1/files?name=${encodeURIComponent(file.name.slice(-120))}`, {
      method: "POST",
      body: file,
      headers: {
        Accept: "application/json",
        "Content-Type": "application/octet-stream",
        "X-CSRFToken": token,
      },
    });
  } catch {
    throw new Unreachable("Cavatum does not answer.");
  }
  const data: unknown = await response.json().catch(() => null);
  if (response.ok) return data as Schemas["FileAnswer"];
  throw new Refused(
    isProblem(data)
      ? data
      : {
          title: "Not taken",
          status: response.status,
          detail: "The file could not be taken. Nothing was changed.",
        },
  );
}

function isProblem(data: unknown): data is Schemas["Problem"] {
  return typeof data === "object" && data !== null && "detail" in data && "status" in data;
}
