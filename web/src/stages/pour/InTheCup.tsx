/** What is still in the cup after the pour, and which other piece could take it while it flows. */
import { useState } from "react";
import { useQuery } from "@tanstack/react-query";
import { Link } from "react-router";
import { placeLeftover } from "../../api/operations.generated";
import { text } from "../../domain/format";
import type { ScriptStep } from "../../domain/run";
import { NumberPad } from "../mix/weigh/NumberPad";
import { useUnits } from "../../ui/session";
import { clockTime } from "./words";

export function InTheCup({
  step,
  pieceId,
  until,
  onLeft,
}: {
  /** the pour that was poured last */
  step: ScriptStep;
  pieceId: number | null;
  until: number;
  onLeft: (m3: number) => void;
}) {
  const { units, zone } = useUnits();
  const [pad, setPad] = useState(false);
  const [left, setLeft] = useState<number | null>(null);
  const found = useQuery({
    queryKey: ["in the cup", step.id, left],
    enabled: left !== null,
    queryFn: async () =>
      (
        await placeLeftover({
          volume_m3: left!,
          system_id: step.system_id ?? "",
          colour: step.colour ?? "",
          piece_id: pieceId,
        })
      ).offers,
  });
  return (
    <div className="text-[18px]">
      <button className="big-quiet px-0!" onClick={() => setPad(true)}>
        Some is still in the cup: it flows until {clockTime(until, zone)}
      </button>
      {left !== null ? (
        found.data?.length ? (
          <ul>
            {found.data.map((one) => (
              <li key={`${one.waiting.piece_id}-${one.waiting.void}`}>
                <Link className="big-quiet px-0!" to={`/pieces/${one.waiting.piece_id}/mix`}>
                  {one.waiting.piece}
                </Link>
                : {one.fills} {one.fills === 1 ? "hollow" : "hollows"} of {one.waiting.void},{" "}
                {text(one.takes_m3, "volume", units)}, until {clockTime(until, zone)}
              </li>
            ))}
          </ul>
        ) : (
          <p>
            {found.isPending
              ? "Looking for a piece that waits …"
              : "No piece that waits fits it. Spread it out thin: a full cup heats itself."}
          </p>
        )
      ) : null}
      {pad ? (
        <NumberPad
          title="How much is still in the cup?"
          plain={units === "us" ? "fl oz" : "mL"}
          onClose={() => setPad(false)}
          onTake={(value) => {
            const m3 = value * (units === "us" ? 2.95735295625e-5 : 1e-6);
            setPad(false);
            if (m3 <= 0) return;
            setLeft(m3);
            onLeft(m3);
          }}
        />
      ) : null}
    </div>
  );
}
