/** What the screens ask for, by name. Keys are kept here so that a change knows what to ask for again. */
import {
  askForWork,
  listPieces,
  listWeighings,
  readBench,
  readCandidates,
  readGoods,
  readJob,
  readOptions,
  readPiece,
  readPieceStock,
  readPlan,
  readSession,
  readShelf,
  readStock,
} from "./operations.generated";
import { keepPreviousData, queryOptions, useQuery, useQueryClient } from "@tanstack/react-query";
import { setToken, type Schemas } from "./client";

export type Plan = Schemas["Plan"];
export type Piece = Schemas["Piece"];
export type Void = Schemas["Void"];
export type Figure = Schemas["Figure"];
export type Working = Schemas["Working"];
export type Session = Schemas["Session"];
export type Stored = Schemas["PieceAnswer"];

export const keys = {
  session: ["session"] as const,
  pieces: ["pieces"] as const,
  piece: (id: number) => ["piece", id] as const,
  plan: (id: number, revision: number) => ["plan", id, revision] as const,
  options: (id: number, revision: number) => ["options", id, revision] as const,
  candidates: (id: number, revision: number) => ["candidates", id, revision] as const,
  shelf: ["shelf"] as const,
  bench: ["bench"] as const,
  stock: ["stock"] as const,
  shelfItems: ["goods"] as const,
};

export const sessionQuery = queryOptions({
  queryKey: keys.session,
  queryFn: async () => {
    const session = await readSession();
    setToken(session.csrf_token);
    return session;
  },
  staleTime: 60_000,
});

export const useSession = () => useQuery(sessionQuery);

export function usePieces(search: string, offset: number) {
  return useQuery({
    queryKey: [...keys.pieces, search, offset],
    queryFn: () => listPieces({ limit: 50, offset: offset, search: search }),
    placeholderData: keepPreviousData,
  });
}

export function usePiece(id: number) {
  return useQuery({
    queryKey: keys.piece(id),
    queryFn: () => readPiece(id),
    refetchInterval: 15_000,
  });
}

export function usePlan(id: number, revision: number | undefined) {
  return useQuery({
    queryKey: keys.plan(id, revision ?? 0),
    queryFn: async () => (await readPlan(id)).plan,
    enabled: revision !== undefined,
    placeholderData: keepPreviousData,
  });
}

export function useOptions(id: number, revision: number) {
  return useQuery({
    queryKey: keys.options(id, revision),
    queryFn: async () => (await readOptions(id)).options,
    placeholderData: keepPreviousData,
  });
}

/** What each system would make of the piece: at once without how often each would get too hot, then with it. */
export function useCandidates(id: number, revision: number) {
  const quick = useQuery({
    queryKey: [...keys.candidates(id, revision), "at once"],
    queryFn: () => readCandidates(id, { chances: false }),
    placeholderData: keepPreviousData,
  });
  const whole = useQuery({
    queryKey: keys.candidates(id, revision),
    queryFn: () => readCandidates(id),
    enabled: quick.isSuccess && !quick.isPlaceholderData,
  });
  return {
    candidates: (whole.data ?? quick.data)?.candidates,
    areChancesPending: !whole.data && !whole.isError,
    error: quick.error ?? whole.error,
  };
}

export function useShelf() {
  return useQuery({
    queryKey: keys.shelf,
    queryFn: async () => (await readShelf()).sheets,
  });
}

export function useStock() {
  return useQuery({ queryKey: keys.stock, queryFn: () => readStock() });
}

export function useShelfItems() {
  return useQuery({ queryKey: keys.shelfItems, queryFn: () => readGoods() });
}

export function usePieceStock(id: number, revision: number) {
  return useQuery({
    queryKey: [...keys.stock, id, revision],
    queryFn: () => readPieceStock(id),
    placeholderData: keepPreviousData,
  });
}

export function useWeighings(id: number) {
  return useQuery({
    queryKey: ["weighings", id],
    queryFn: async () => (await listWeighings(id)).weighings,
  });
}

export function useBench(everyMs = 30_000) {
  return useQuery({
    queryKey: keys.bench,
    queryFn: () => readBench(),
    refetchInterval: everyMs,
  });
}

/** After a sheet, the workshop or the demo changed, every plan is another one. */
export function useEverythingAnew() {
  const client = useQueryClient();
  return () => client.invalidateQueries();
}

export type Work = Schemas["JobAnswer"];

/** Long work on a piece's heat: asked for once by what it rests on, looked at until it is over. */
export function useWork(id: number, revision: number, kind: "three", voidId: string, enabled: boolean) {
  const asked = useQuery({
    queryKey: ["work", id, revision, kind, voidId],
    queryFn: () => askForWork(id, { kind, void_id: voidId }),
    enabled,
    staleTime: Infinity,
    retry: 1,
  });
  const job = asked.data;
  const open = !!job && (job.state === "waiting" || job.state === "running");
  const later = useQuery({
    queryKey: ["job", job?.id],
    queryFn: () => readJob(job!.id),
    enabled: open,
    refetchInterval: (query) =>
      ["done", "failed", "ended"].includes(query.state.data?.state ?? "") ? false : 400,
  });
  return { work: later.data ?? job, error: asked.error ?? later.error };
}
