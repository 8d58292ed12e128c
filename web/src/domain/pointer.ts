/** JSON pointers of the conflict answer: list items are named by their id. */
type Json = unknown;

export function setAt<T>(document: T, pointer: string, value: Json): T {
  const parts = pointer.split("/").slice(1);
  return put(document, parts, value) as T;
}

function put(node: Json, parts: string[], value: Json): Json {
  if (parts.length === 0) return value;
  const [head = "", ...rest] = parts;
  if (Array.isArray(node)) {
    const found = node.some((one) => (one as { id?: string }).id === head);
    if (!found) return value === null || rest.length ? node : [...node, value];
    if (rest.length === 0 && value === null)
      return node.filter((one) => (one as { id?: string }).id !== head);
    return node.map((one) => ((one as { id?: string }).id === head ? put(one, rest, value) : one));
  }
  const record = (node ?? {}) as Record<string, Json>;
  return { ...record, [head]: put(record[head], rest, value) };
}

const WORDS: Record<string, string> = {
  voids: "void",
  shape: "",
  portions: "portion",
  inclusions: "embedded",
  length_m: "length",
  width_m: "width",
  depth_m: "depth",
  overfill_m: "overfill",
  soak_m3_m2: "soak",
  system_id: "resin system",
  layering: "split",
  boundaries_m: "layer boundaries",
  first_pour_at: "start",
  for_whom: "for whom",
  to_m: "filled to",
  kind_of_work: "kind of work",
};

export function pointerWords(pointer: string): string {
  return pointer
    .split("/")
    .filter(Boolean)
    .map((part) => WORDS[part] ?? part.replace(/_(m|m3|kg)$/, "").replaceAll("_", " "))
    .filter(Boolean)
    .join(" › ");
}

export function valueWords(value: unknown): string {
  if (value === null || value === undefined) return "nothing";
  if (Array.isArray(value)) return value.map(valueWords).join(", ") || "none";
  if (typeof value === "object") {
    const record = value as Record<string, unknown>;
    return String(record.as_typed || record.name || record.value || record.kind || "changed");
  }
  return String(value);
}
