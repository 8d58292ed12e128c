// Writes src/api/operations.generated.ts from src/api/openapi.json: one function an operation, by its own name, with the types of
// what it takes and answers, and the names that an answer must have to be one. Run by `npm run types`.
import { readFileSync, writeFileSync } from "node:fs";

const HEAD = `/** Every operation of the server by its name. Written by operations.mjs from openapi.json: change the server, not this file. */
import { call, type Schemas } from "./client";
`;
const document = JSON.parse(readFileSync("src/api/openapi.json", "utf8"));
const named = (schema) => schema?.$ref?.split("/").at(-1);
const camel = (name) => name.replace(/_(\w)/g, (_, letter) => letter.toUpperCase());
const resolved = (schema) => (schema?.$ref ? document.components.schemas[named(schema)] : (schema ?? {}));

function typeOf(schema) {
  const found = resolved(schema);
  if (found.enum) return found.enum.map((one) => JSON.stringify(one)).join(" | ");
  if (found.anyOf) return found.anyOf.map(typeOf).join(" | ");
  return { integer: "number", number: "number", boolean: "boolean", null: "null" }[found.type] ?? "string";
}

function written([path, method, operation]) {
  const answers = Object.entries(operation.responses).filter(([code]) => code.startsWith("2"));
  const answer = answers[0]?.[1].content?.["application/json"]?.schema;
  const isEmpty = answers.length > 0 && !answers[0][1].content;
  if (!answer && !isEmpty) return null; // a page or a file: a link, not a call
  const parameters = operation.parameters ?? [];
  const inPath = [...path.matchAll(/\{(\w+)\}/g)].map(([, name]) =>
    parameters.find((one) => one.name === name),
  );
  const query = parameters.filter((one) => one.in === "query");
  const body = operation.requestBody?.content?.["application/json"]?.schema;
  const isRaw = RAW.has(operation.operationId);
  const takes = [
    ...inPath.map((one) => `${camel(one.name)}: ${typeOf(one.schema)}`),
    ...(body ? [`body: Schemas["${named(body)}"]`] : []),
    ...(isRaw ? ["body: BodyInit"] : []),
    ...(query.length
      ? [
          `query: { ${query.map((one) => `${one.name}?: ${typeOf(one.schema)} | undefined`).join("; ")} } = {}`,
        ]
      : []),
  ];
  const where = path
    .replace("/api/v1", "")
    .replace(/\{(\w+)\}/g, (_, name) => `\${encodeURIComponent(${camel(name)})}`);
  const names = resolved(answer).required ?? [];
  const more = [
    ...(body ? ["body"] : []),
    ...(isRaw ? ["raw: body"] : []),
    ...(query.length ? ["query"] : []),
    ...(names.length ? [`names: ${JSON.stringify(names)}`] : []),
  ];
  const type = answer ? `Schemas["${named(answer)}"]` : "void";
  const text = operation.summary || operation.description;
  return (
    (text ? `\n/** ${text.replace(/\s+/g, " ").trim()} */` : "") +
    `\nexport const ${operation.operationId} = (${takes.join(", ")}) =>
  call<${type}>("${method.toUpperCase()}", \`${where}\`${more.length ? `, { ${more.join(", ")} }` : ""});\n`
  );
}

const RAW = new Set(["importPiece", "takeInBusy", "keepFile", "sendFrame", "findFaces"]);
const operations = Object.entries(document.paths).flatMap(([path, methods]) =>
  Object.entries(methods)
    .filter(([method]) => ["get", "post", "put", "delete"].includes(method))
    .map(([method, operation]) => [path, method, operation]),
);
writeFileSync(
  process.argv[2] ?? "src/api/operations.generated.ts",
  HEAD + operations.map(written).filter(Boolean).join(""),
);
