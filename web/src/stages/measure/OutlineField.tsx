/** The outline of a void, typed as points round its rim; read by the server, drawn as it is typed. */
import { understandOutline } from "../../api/operations.generated";
import { useId, useState } from "react";
import { Refused } from "../../api/client";
import { useUnits } from "../../ui/session";

type Points = [number, number][];

interface Props {
  text: string;
  onText: (text: string) => void;
  onRead: (points: Points, text: string) => Promise<void> | void;
}

const SCALES = { mm: 1000, in: 1 / 0.0254 };

/** Points [m] as lines in the workshop's unit, for an outline that came without its text. */
export function outlineText(points: Points, unit: "mm" | "in"): string {
  return points
    .map((point) => point.map((value) => Number((value * SCALES[unit]).toFixed(3))).join(" "))
    .join("\n");
}

export async function readPoints(text: string, unit: "mm" | "in"): Promise<Points> {
  return (await understandOutline({ text, unit })).points_m;
}

export function useOutlineUnit(): "mm" | "in" {
  return useUnits().units === "us" ? "in" : "mm";
}

export function OutlineField({ text, onText, onRead }: Props) {
  const id = useId();
  const unit = useOutlineUnit();
  const [problem, setProblem] = useState("");
  const read = async () => {
    if (!text.trim()) return;
    try {
      await onRead(await readPoints(text, unit), text);
      setProblem("");
    } catch (error) {
      const first = error instanceof Refused ? error.problem.problems?.[0] : undefined;
      setProblem(first ? `${first.message} ${first.way_out}` : (error as Error).message);
    }
  };
  return (
    <div>
      <label className="label" htmlFor={id}>
        points round the rim, x y in {unit}, one a line
      </label>
      <textarea
        id={id}
        rows={5}
        className="box font-mono text-[13px]"
        aria-invalid={problem ? true : undefined}
        placeholder={"0 0\n230 0\n230 170\n0 170"}
        value={text}
        onChange={(event) => onText(event.target.value)}
        onBlur={() => void read()}
      />
      {problem ? (
        <p role="alert" className="text-rust font-medium text-[12px]">
          {problem}
        </p>
      ) : null}
    </div>
  );
}
