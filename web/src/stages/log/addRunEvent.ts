/** One entry for a run's record from outside bench mode: kept once, by this device's own count. */
import { remembered } from "../../api/memory";
import { sendRunEvents } from "../../api/operations.generated";
import { useQueryClient } from "@tanstack/react-query";
import type { Schemas } from "../../api/client";
import type { RunEvent } from "../../domain/run";
import { uuid } from "../../domain/uuid";
import { nextSeq, thisDevice } from "../pour/useRun";

export function useSayInRun(runId: number | null | undefined) {
  const client = useQueryClient();
  return async (event: RunEvent) => {
    if (!runId) throw new Error("There is no run yet.");
    const at = new Date().toISOString();
    const sent: Schemas["Sent"] = {
      event_id: uuid(),
      device: thisDevice(),
      seq: nextSeq(runId),
      at,
      device_at: at,
      who: remembered("device", "cavatum-who") ?? "",
      event,
    };
    await sendRunEvents(runId, { since: 1_000_000, events: [sent] });
    // It is kept as soon as it stands in the record; plans and figures that rest on it may take their time.
    for (const queryKey of [["finish"], ["logbook"], ["learned"], ["run-heat", runId]])
      void client.invalidateQueries({ queryKey });
    await client.invalidateQueries({ queryKey: ["record", runId] });
  };
}
