/** Changes to the workshop and to what is on the shelf: one after the other, each made on what the one
 *  before it has left.
 *  Two fields typed one soon after the other never undo each other, however slowly the server answers. */
import { useQueryClient, type QueryClient } from "@tanstack/react-query";
import { useCallback } from "react";
import { carried } from "../domain/carried";
import { Refused, type Schemas } from "./client";
import {
  changeBottle,
  changeSystem,
  keepColourant,
  keepMaterial,
  keepRecipe,
  saveWorkshop,
} from "./operations.generated";
import { keys, type Session } from "./queries";

type System = Schemas["System"];
type ShelfItems = Schemas["ShelfItems"];
type Workshop = Session["workshop"];

const lines = new Map<string, Promise<unknown>>();

function inOrder<R>(line: string, work: () => Promise<R>): Promise<R> {
  const next = (lines.get(line) ?? Promise.resolve()).then(work, work);
  lines.set(
    line,
    next.catch(() => undefined),
  );
  return next;
}

interface Newest<T> {
  thing: T;
  revision: number;
}

type Clash = Schemas["Clash"];

const shown = (value: unknown): string => {
  if (value === null || value === undefined) return "nothing";
  if (typeof value === "object" && "as_typed" in value) return String(value.as_typed);
  return typeof value === "string" ? `“${value}”` : JSON.stringify(value).slice(0, 60);
};

const named = (pointer: string) =>
  (pointer.split("/").filter(Boolean).pop() ?? "all of it")
    .replace(/_(c|m|kg|s|minor|m2|pa)$/, "")
    .replaceAll("_", " ");

/** Both changed the same values: which holds is the person's to say. True: what was typed here. */
export function chooses(clashes: readonly Clash[]): boolean {
  const each = clashes.map(
    ({ pointer, theirs, yours }) => `${named(pointer)}: ${shown(theirs)} there, ${shown(yours)} here`,
  );
  return window.confirm(
    `Changed on another device in the meantime:\n${each.join("\n")}\n\nOK keeps yours, Cancel keeps theirs.`,
  );
}

const clashesOf = (error: unknown): Clash[] =>
  error instanceof Refused && error.problem.status === 409 ? (error.problem.clashes ?? []) : [];

/** before: the thing as the person saw it, null for a new one; newest: as the cache has it when its turn
 *  comes, with its revision. */
function useChange() {
  const client = useQueryClient();
  return useCallback(
    <T>(
      line: string,
      save: (thing: T, madeOn: number) => Promise<unknown>,
      before: T | null,
      after: T,
      newest: (client: QueryClient) => Newest<T> | undefined,
    ) => {
      const send = () => {
        const now = before === null ? undefined : newest(client);
        return save(
          before === null || now === undefined ? after : carried(before, after, now.thing),
          now?.revision ?? 1,
        );
      };
      return inOrder(line, async () => {
        try {
          await send();
        } catch (error) {
          const clashes = clashesOf(error);
          if (!clashes.length) throw error;
          const isMine = chooses(clashes); // asked at once: reading all anew takes a while
          await client.invalidateQueries();
          if (isMine) await send();
        }
        // What the next change is made on is read again before its turn comes; plans rest on it all.
        await client.invalidateQueries();
      });
    },
    [client],
  );
}

/** The workshop's own settings. */
export function useChangeWorkshop(workshop: Workshop) {
  const change = useChange();
  const newest = (client: QueryClient) => {
    const session = client.getQueryData<Session>(keys.session);
    return session && { thing: session.workshop, revision: session.revision };
  };
  const save = (settings: Workshop, made_on: number) => saveWorkshop(settings, { made_on });
  return (part: Partial<Workshop>) => change("workshop", save, workshop, { ...workshop, ...part }, newest);
}

/** A resin system's sheet. */
export function useChangeSystem(system: System) {
  const change = useChange();
  const newest = (client: QueryClient) => {
    const sheets = client.getQueryData<Schemas["Sheet"][]>(keys.shelf);
    const thing = sheets?.find((one) => one.system.id === system.id)?.system;
    return thing && { thing, revision: thing.version ?? 1 };
  };
  const save = (sheet: System) => changeSystem(system.id, sheet);
  return (part: Partial<System>) =>
    change(`system/${system.id}`, save, system, { ...system, ...part }, newest);
}

/** A bottle on the shelf. */
export function useChangeBottle({ id, bottle }: Schemas["OnShelf"]) {
  const change = useChange();
  const newest = (client: QueryClient) => {
    const stock = client.getQueryData<Schemas["StockList"]>(keys.stock);
    const found = stock?.bottles.find((one) => one.standing.id === id)?.standing;
    return found && { thing: found.bottle, revision: found.revision ?? 1 };
  };
  const save = (changed: Schemas["Bottle"], made_on: number) => changeBottle(id, changed, { made_on });
  return (part: Partial<Schemas["Bottle"]>) =>
    change(`bottle/${id}`, save, bottle, { ...bottle, ...part }, newest);
}

const SHELVES = { colourant: "colourants", material: "materials", recipe: "recipes" } as const;
interface Thing {
  colourant: Schemas["Colourant"];
  material: Schemas["FormMaterial"];
  recipe: Schemas["Recipe"];
}
const SAVE: { [K in keyof Thing]: (id: string, thing: Thing[K]) => Promise<unknown> } = {
  colourant: keepColourant,
  material: keepMaterial,
  recipe: keepRecipe,
};

/** A colourant, a form material or a recipe; `seen` are those the person sees. */
export function useKeepGoods<K extends keyof Thing>(kind: K, seen: readonly Thing[K][]) {
  const change = useChange();
  return (thing: Thing[K]) => {
    const newest = (client: QueryClient) => {
      const shelf: Record<string, unknown> =
        client.getQueryData<ShelfItems>(keys.shelfItems)?.[SHELVES[kind]] ?? {};
      const found = shelf[thing.id] as Thing[K] | undefined;
      return found && { thing: found, revision: found.version ?? 1 };
    };
    const before = seen.find((one) => one.id === thing.id) ?? null;
    return change(`${kind}/${thing.id}`, (one) => SAVE[kind](thing.id, one), before, thing, newest);
  };
}
