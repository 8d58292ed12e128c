/** The alarms of a run that ring now, with the picture of what a camera saw. */
import type { Ringing } from "../../ui/alarms";
import { fileUrl } from "../../ui/Marked";
import type { OpenRun } from "./useRun";

export function ringingOf(open: OpenRun): Ringing[] {
  return open
    .view!.alarms.filter((one) => one.is_past)
    .map((one) => ({
      id: one.id,
      words: one.words,
      where: open.run!.script.piece,
      late: open.now - one.at,
      ...pictureOf(one.id, open),
    }));
}

function pictureOf(alarm: string, open: OpenRun): Pick<Ringing, "picture"> {
  const id = alarm.startsWith("saw/") ? alarm.slice(4) : null;
  const event = id ? open.events.find((one) => one.event_id === id)?.event : undefined;
  if (event?.kind !== "saw" || !event.sha256 || !event.size) return {};
  return {
    picture: { src: fileUrl(event.sha256), size: event.size as [number, number], marks: event.marks ?? [] },
  };
}
