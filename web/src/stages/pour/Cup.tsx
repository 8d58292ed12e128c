/** How warm the batch should be in its cup, when it will be, and what was read of it. */
import { degrees } from "../../domain/format";
import type { Alarm, RunState, ScriptStep } from "../../domain/run";
import { useUnits } from "../../ui/session";
import { clockTime } from "./words";

export function Cup({ step, state, alarms }: { step: ScriptStep; state: RunState; alarms: Alarm[] }) {
  const { units, zone } = useUnits();
  const { cup } = step;
  if (!cup) return null;
  const due = (name: string) => alarms.find((one) => one.id === `${step.id}/${name}`)?.at;
  const wanted: [string, number | null | undefined, number | undefined][] = [
    ["part the colours at", cup.split_c, due("split")],
    ["pour from", cup.pour_c, due("warm")],
    ["never over", cup.most_c, undefined],
  ];
  const read = state.cup[step.id];
  return (
    <p className="text-[19px] mt-2">
      In the cup:{" "}
      {wanted
        .flatMap(([words, celsius, at]) =>
          typeof celsius === "number"
            ? [`${words} ${degrees(celsius, units)}${at ? `, about ${clockTime(at, zone)}` : ""}`]
            : [],
        )
        .join("; ")}
      .{" "}
      {read
        ? `Read ${degrees(read.celsius, units)} at ${clockTime(read.at, zone)}.`
        : "Read it with the infrared."}
    </p>
  );
}
