/** Changes to the workshop and to what is on the shelf: one after the other, each made on what the one before it has left.
 *  Two fields typed one soon after the other never undo each other, however slowly the server answers. */
import { useQueryClient, type QueryClient } from "@tanstack/react-query";
import { useCallback } from "react";
import { carried } from "../domain/carried";
import { call, type Schemas } from "./client";
import { keys, type Session } from "./queries";

type System = Schemas["System"];
type Goods = Schemas["Goods"];
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

/** before: the thing as the person saw it, null for a new one; newest: as the cache has it when its turn comes. */
function useChange() {
  const client = useQueryClient();
  return useCallback(
    <T>(path: string, before: T | null, after: T, newest: (client: QueryClient) => T | undefined) =>
      inOrder(path, async () => {
        const now = before === null ? undefined : newest(client);
        await call("PUT", path, before === null || now === undefined ? after : carried(before, after, now));
        // What the next change is made on is read again before its turn comes; plans rest on it all.
        await client.invalidateQueries();
      }),
    [client],
  );
}

/** The workshop's own settings. */
export function useChangeWorkshop(workshop: Workshop) {
  const change = useChange();
  return (part: Partial<Workshop>) =>
    change(
      "/workshop",
      workshop,
      { ...workshop, ...part },
      (client) => client.getQueryData<Session>(keys.session)?.workshop,
    );
}

/** A resin system's sheet. */
export function useChangeSystem(system: System) {
  const change = useChange();
  return (part: Partial<System>) =>
    change(
      `/systems/${system.id}`,
      system,
      { ...system, ...part },
      (client) =>
        client.getQueryData<Schemas["Sheet"][]>(keys.shelf)?.find((one) => one.system.id === system.id)
          ?.system,
    );
}

const SHELVES = { colourant: "colourants", material: "materials", recipe: "recipes" } as const;
type Thing = {
  colourant: Schemas["Colourant"];
  material: Schemas["FormMaterial"];
  recipe: Schemas["Recipe"];
};

/** A colourant, a form material or a recipe; `seen` are those the person sees, by id. */
export function useKeepGoods<K extends keyof Thing>(kind: K, seen: readonly Thing[K][]) {
  const change = useChange();
  return (thing: Thing[K]) =>
    change<Thing[K]>(
      `/goods/${kind}/${thing.id}`,
      seen.find((one) => one.id === thing.id) ?? null,
      thing,
      (client) => {
        const shelf: Record<string, unknown> = client.getQueryData<Goods>(keys.goods)?.[SHELVES[kind]] ?? {};
        return shelf[thing.id] as Thing[K] | undefined;
      },
    );
}
