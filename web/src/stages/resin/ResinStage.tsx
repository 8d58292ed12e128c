/** Resin: the systems on the shelf side by side on this very piece, and whether the sheet is trusted. */
import { Link } from "react-router";
import { useCandidates, useShelf } from "../../api/queries";
import { moment, text } from "../../domain/format";
import { useUnits } from "../../ui/session";
import { Verdicts } from "../../ui/Verdicts";
import type { StageProps } from "../Workspace";

export function ResinStage({ stored, plan, edits }: StageProps) {
  const { units, currency, zone } = useUnits();
  const candidates = useCandidates(stored.id, stored.revision);
  const shelf = useShelf();
  const chosen = stored.piece.system_id;
  const typical = chosen ? (plan.typical[chosen] ?? []) : [];
  const sheets = shelf.data ?? [];
  const rank = (offered: boolean, pours: number) => (offered ? pours : 1000 + pours);
  const sorted = [...(candidates.data ?? [])].sort((a, b) => rank(a.option.offered, a.option.pours) - rank(b.option.offered, b.option.pours));
  return (
    <>
      <h2 className="mt-2">Which system suits?</h2>
      {candidates.isPending ? <p className="text-slate">Trying each on this piece …</p> : null}
      {candidates.data?.length === 0 ? <p className="mt-1">The shelf is empty. <Link className="quiet" to="/shelf">Put a system on it</Link></p> : null}
      <div role="radiogroup" aria-label="Resin system" className="mt-1">
        {sorted.map((one) => {
          const on = one.system_id === chosen;
          return (
            <button key={one.system_id} role="radio" aria-checked={on} onClick={() => void edits.edit("resin system", (piece) => ({ ...piece, system_id: one.system_id, layering: piece.layering === "own" ? "fewest" : piece.layering }))}
              className={`w-full text-left grid grid-cols-[1fr_auto] gap-x-2 px-2 py-2 border-b border-line ${on ? "border-2 border-spruce! rounded-[3px] bg-raised" : ""}`}>
              <b className="font-semibold">{one.name}</b>
              <span className="text-right font-semibold">{one.option.offered ? `${one.option.pours} ${one.option.pours === 1 ? "pour" : "pours"}` : "not offered"}</span>
              <span className="text-[12.5px] text-slate col-span-2">
                {one.option.offered
                  ? [one.mass_kg ? text(one.mass_kg, "mass", units) : "", one.cost_minor ? text(one.cost_minor, "money", units, currency) : "", one.option.out_of_form_at ? `out of the form ${moment(one.option.out_of_form_at, zone)}` : ""].filter(Boolean).join(" · ")
                  : one.option.reason}
                {one.doubts ? ` · ${one.doubts} ${one.doubts === 1 ? "doubt" : "doubts"} about its sheet` : ""}
              </span>
            </button>
          );
        })}
      </div>
      {chosen && typical.length ? (
        <section className="mt-4">
          <h2>Rests on typical values</h2>
          <p className="mt-1 text-[13.5px]">
            {typical.length} values of {sheets.find((sheet) => sheet.system.id === chosen)?.system.name ?? chosen} are typical of its class and not from your sheet.{" "}
            <Link className="quiet" to={`/shelf/${chosen}`}>Compare and confirm them</Link>
          </p>
        </section>
      ) : null}
      <Verdicts verdicts={plan.verdicts} stage="resin" />
      {plan.cautions.length ? (
        <section className="mt-4"><h2>With care</h2>{plan.cautions.map((caution) => <p key={caution} className="mt-1 text-[13px]">{caution}</p>)}</section>
      ) : null}
    </>
  );
}
