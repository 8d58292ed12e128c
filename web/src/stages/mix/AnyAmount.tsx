/** Any amount weighed out by a system's ratio: in all or of each part is asked, as is the ounce. */
import { weighOut } from "../../api/operations.generated";
import { useId, useState } from "react";
import { Refused, type FieldProblem, type Schemas } from "../../api/client";
import type { Plan } from "../../api/queries";
import { defaultUnit, onTheScale, text as text_ } from "../../domain/format";
import { Fig } from "../../ui/Fig";
import { useUnits } from "../../ui/session";

/** isOpen: it is what somebody came for. */
export function AnyAmount({
  systemId,
  pieceId,
  isOpen = false,
  isLarge = false,
}: {
  systemId: string;
  /** the piece it may lie on: then its film there is said too */
  pieceId?: number;
  isOpen?: boolean;
  /** for gloves */
  isLarge?: boolean;
}) {
  const { units } = useUnits();
  const id = useId();
  const [typed, setTyped] = useState("");
  const [answer, setAnswer] = useState<Schemas["AmountAnswer"] | null>(null);
  const found = answer?.weigh ?? null;
  const onPiece = answer?.on_piece;
  const [problem, setProblem] = useState<FieldProblem | null>(null);
  const ask = async (text: string) => {
    if (!text.trim()) return;
    try {
      setAnswer(
        await weighOut(systemId, {
          text,
          piece_id: pieceId ?? null,
          default_unit: defaultUnit("mass", units),
        }),
      );
      setProblem(null);
    } catch (error) {
      setAnswer(null);
      const first = error instanceof Refused ? error.problem.problems?.[0] : undefined;
      setProblem(
        first ?? { pointer: "", message: (error as Error).message, value: "", way_out: "", code: "" },
      );
    }
  };
  // The working of each figure lies beside it, not in a plan.
  const plan = { workings: found?.workings ?? {} } as unknown as Plan;
  return (
    <details className="mt-3" open={isOpen || undefined}>
      <summary className={isLarge ? "big-quiet" : "quiet"}>Another amount</summary>
      <div className="flex gap-2 items-end mt-1">
        <div className="grow">
          <label htmlFor={id} className="label">
            amount
          </label>
          <input
            id={id}
            className="box"
            placeholder="300 g in all, 8 fl oz of each part"
            value={typed}
            aria-invalid={problem ? true : undefined}
            onChange={(event) => setTyped(event.target.value)}
            onKeyDown={(event) => event.key === "Enter" && void ask(typed)}
          />
        </div>
        <button
          className={isLarge ? "big-box px-5" : "key"}
          disabled={!typed.trim()}
          onClick={() => void ask(typed)}
        >
          Weigh out
        </button>
      </div>
      {problem ? (
        <p role="alert" className="text-rust text-[12.5px] font-medium">
          {problem.message} {problem.choices?.length ? "" : problem.way_out}
          {(problem.choices ?? []).map((choice) => (
            <button
              key={choice}
              className="quiet mr-3"
              onClick={() => {
                setTyped(choice);
                void ask(choice);
              }}
            >
              {choice}
            </button>
          ))}
        </p>
      ) : null}
      {found ? (
        <table className="w-full mt-2" aria-label={`Weighed out: ${found.words}`}>
          <tbody>
            {(["A", "B"] as const).map((part) => {
              const [mass, volume] =
                part === "A" ? [found.mass_a, found.volume_a] : [found.mass_b, found.volume_b];
              const weight = onTheScale(mass.value);
              return (
                <tr key={part} className="align-baseline">
                  <th scope="row" className="text-left font-semibold pr-2">
                    {part}
                  </th>
                  <td>
                    <Fig
                      figure={mass}
                      plan={plan}
                      as={{ number: weight.grams, unit: "g" }}
                      className="text-[24px] font-semibold"
                    />
                  </td>
                  <td className="text-right text-[12.5px] text-slate">
                    {weight.ounces} · <Fig figure={volume} plan={plan} unitClass="" /> ·{" "}
                    {text_(volume.value, "volume", units === "us" ? "metric" : "us")}
                  </td>
                </tr>
              );
            })}
            <tr>
              <td colSpan={3} className="text-[12.5px] text-slate">
                {found.words}: <Fig figure={found.mass} plan={plan} unitClass="" /> and{" "}
                <Fig figure={found.volume} plan={plan} unitClass="" /> together
              </td>
            </tr>
          </tbody>
        </table>
      ) : null}
      {onPiece ? (
        <ul aria-label="On this piece" className="rule mt-2 text-[13px]">
          {onPiece.films.map((one) => (
            <li key={one.lay_id} className="py-1">
              <b className="font-semibold">{one.name}: </b>
              {one.problem || one.says}{" "}
              {one.over && Math.abs(one.share ?? 0) > 0.005 ? (
                <>
                  <Fig
                    figure={one.over}
                    plan={{ workings: onPiece.workings }}
                    as={{ number: text_(Math.abs(one.over.value), "volume", units), unit: "" }}
                  />{" "}
                  {one.over.value > 0 ? "over" : "short of"} what it takes (
                  {Math.round(Math.abs(one.share ?? 0) * 100)} %).
                </>
              ) : null}
            </li>
          ))}
          {onPiece.doubts.map((one) => (
            <li key={one.code + one.title} className="py-1 text-rust">
              {one.title}. {one.text}
            </li>
          ))}
        </ul>
      ) : null}
    </details>
  );
}
