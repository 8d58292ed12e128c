/** Changes to the workshop and to what is on the shelf: one after the other, each made on what the one
 *  before it has left.
 *  Two fields typed one soon after the other never undo each other, however slowly the server answers. */
import { useQueryClient, type QueryClient } from "@tanstack/react-query";
import { useCallback } from "react";
import { carried } from "../domain/carried";
import type { Schemas } from "./client";
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

/** before: the thing as the person saw it, null for a new one; newest: as the cache has it when its turn
 *  comes. */
function useChange() {
  const client = useQueryClient();
  return useCallback(
    <T>(
      line: string,
      save: (thing: T) => Promise<unknown>,
      before: T | null,
      after: T,
      newest: (client: QueryClient) => T | undefined,
    ) =>
      inOrder(line, async () => {
        const now = before === null ? undefined : newest(client);
        await save(before === null || now === undefined ? after : carried(before, after, now));
        // What the next change is made on is read again before its turn comes; plans rest on it all.
        await client.invalidateQueries();
      }),
    [client],
  );
}

/** The workshop's own settings. */
export function useChangeWorkshop(workshop: Workshop) {
  const change = useChange();
  const newest = (client: QueryClient) => client.getQueryData<Session>(keys.session)?.workshop;
  return (part: Partial<Workshop>) =>
    change("workshop", saveWorkshop, workshop, { ...workshop, ...part }, newest);
}

/** A resin system's sheet. */
export function useChangeSystem(system: System) {
  const change = useChange();
  const newest = (client: QueryClient) =>
    client.getQueryData<Schemas["Sheet"][]>(keys.shelf)?.find((one) => one.system.id === system.id)?.system;
  const save = (sheet: System) => changeSystem(system.id, sheet);
  return (part: Partial<System>) =>
    change(`system/${system.id}`, save, system, { ...system, ...part }, newest);
}

/** A bottle on the shelf. */
export function useChangeBottle({ id, bottle }: Schemas["OnShelf"]) {
  const change = useChange();
  const newest = (client: QueryClient) =>
    client.getQueryData<Schemas["StockList"]>(keys.stock)?.bottles.find((one) => one.standing.id === id)
      ?.standing.bottle;
  const save = (changed: Schemas["Bottle"]) => changeBottle(id, changed);
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
      return shelf[thing.id] as Thing[K] | undefined;
    };
    const before = seen.find((one) => one.id === thing.id) ?? null;
    return change(`${kind}/${thing.id}`, (one) => SAVE[kind](thing.id, one), before, thing, newest);
  };
}
