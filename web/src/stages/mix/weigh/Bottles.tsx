/** Which bottle this comes from: tapped, never guessed, so that the lot is in the record and the rest on
 *  the shelf. */
import { useStock } from "../../../api/queries";
import type { Schemas } from "../../../api/client";
import { grams } from "./Weigh";

export function Bottles({
  step,
  systemId,
  onChoose,
}: {
  step: Schemas["WeighStep"];
  systemId: string;
  onChoose: (id: number, lot: string) => void;
}) {
  const stock = useStock();
  const id = step.kind === "part" ? systemId : step.key.split("/")[1];
  const fitting = (stock.data?.bottles ?? []).filter(
    ({ standing: { bottle, left_kg } }) =>
      bottle.goods_id === id && (step.kind === "colourant" || bottle.part === step.key) && left_kg > 0,
  );
  if (!fitting.length) return null;
  return (
    <div role="radiogroup" aria-label="Which bottle" className="mt-4 flex flex-wrap gap-3 items-center">
      <span className="text-[17px] text-slate">From which bottle?</span>
      {fitting.map(({ standing, verdicts }) => {
        const expired = verdicts.some((one) => one.code === "expired");
        const short = standing.left_kg < step.remaining_kg;
        return (
          <button
            key={standing.id}
            role="radio"
            aria-checked={standing.id === step.bottle_id}
            onClick={() => onChoose(standing.id, standing.bottle.lot ?? "")}
            className={`min-h-[64px] px-4 text-left text-[17px] border-2 rounded-[3px] ${standing.id === step.bottle_id ? "border-spruce border-4 font-semibold" : "border-slate"}`}
          >
            lot {standing.bottle.lot || "not noted"}
            <span
              className={`block text-[16px] ${expired || short ? "text-rust font-semibold" : "text-slate"}`}
            >
              {grams(standing.left_kg)} g left{expired ? ", past its date" : short ? ", not enough" : ""}
            </span>
          </button>
        );
      })}
    </div>
  );
}
