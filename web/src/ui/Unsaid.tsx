/** What a plan needs and nobody has said yet: asked where it is needed, in words, answered with one tap. */
import { text } from "../domain/format";
import { spansText } from "../domain/hours";
import { useShop, useUnits } from "./session";
import { useOpenWorkshop } from "./sheets";

export function Unsaid({ what }: { what: "room" | "hours" }) {
  const { unsaid, workshop } = useShop();
  const { units } = useUnits();
  const open = useOpenWorkshop();
  if (!unsaid.includes(what)) return null;
  const taken =
    what === "room"
      ? `a room of ${text(workshop.room_c.value, "temperature", units)}`
      : `somebody here on weekdays ${spansText(workshop.week[0]!)}, Saturday ${spansText(workshop.week[5]!) || "nobody"}`;
  return (
    <p className="mt-2 border-l-4 border-straw pl-3 text-[13.5px]">
      Taken for now: {taken}.{" "}
      <button className="quiet" onClick={() => open(what)}>
        {what === "room" ? "How warm is it?" : "When is somebody there?"}
      </button>
    </p>
  );
}
