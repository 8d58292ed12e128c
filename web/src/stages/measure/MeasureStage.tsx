/** Measure: voids one by one, each with its small drawing, what is embedded, and what goes missing. */
import { useState } from "react";
import type { Void } from "../../api/queries";
import { text } from "../../domain/format";
import { Fig } from "../../ui/Fig";
import { QuantityField } from "../../ui/QuantityField";
import { useUnits } from "../../ui/session";
import { Verdicts } from "../../ui/Verdicts";
import type { StageProps } from "../Workspace";
import { AddVoid } from "./AddVoid";
import { VoidEditor } from "./VoidEditor";

export function MeasureStage(props: StageProps) {
  const { stored, plan, edits, voidId, chooseVoid } = props;
  const voids = stored.piece.voids ?? [];
  const [adding, setAdding] = useState(voids.length === 0);
  const { units } = useUnits();
  const change = (id: string, what: string, fn: (hollow: Void) => Void) =>
    edits.edit(what, (piece) => ({ ...piece, voids: (piece.voids ?? []).map((one) => (one.id === id ? fn(one) : one)) }));
  const open = voids.find((one) => one.id === voidId) ?? voids[0];
  return (
    <>
      <h2 className="mt-2">How much is there to fill?</h2>
      <ul className="rule mt-1">
        {voids.map((hollow) => {
          const figures = plan.voids.find((one) => one.void_id === hollow.id);
          const isOpen = hollow.id === open?.id && !adding;
          return (
            <li key={hollow.id} className="py-2">
              <div className="flex items-baseline gap-2">
                <button className="font-semibold text-left" aria-expanded={isOpen} onClick={() => { chooseVoid(hollow.id); setAdding(false); }}>
                  {isOpen ? "▾" : "▸"} {hollow.name}{(hollow.count ?? 1) > 1 ? `, ${hollow.count} alike` : ""}
                </button>
                <span className="ml-auto"><Fig figure={figures?.net} plan={plan} className="font-semibold" label={`Resin in ${hollow.name}`} /></span>
              </div>
              {isOpen ? <VoidEditor hollow={hollow} index={voids.indexOf(hollow)} plan={plan} change={(what, fn) => change(hollow.id, what, fn)} remove={() => edits.edit("removed a void", (piece) => ({ ...piece, voids: (piece.voids ?? []).filter((one) => one.id !== hollow.id) }))} /> : null}
            </li>
          );
        })}
      </ul>
      {adding ? (
        <AddVoid pieceId={stored.id} piece={stored.piece} onCancel={voids.length ? () => setAdding(false) : undefined} onAdd={async (hollow) => {
          await edits.edit("added a void", (piece) => ({ ...piece, voids: [...(piece.voids ?? []), hollow] }));
          chooseVoid(hollow.id);
          setAdding(false);
        }} />
      ) : <button className="key mt-3" onClick={() => setAdding(true)}>Add a void</button>}
      {voids.length ? (
        <section className="mt-5">
          <h2>What goes missing</h2>
          <table className="plain mt-1">
            <tbody>
              {(plan.totals.allowances ?? []).map((line) => (
                <tr key={line.code}>
                  <td>{line.name}</td>
                  <td className="text-right text-slate">{text(line.share, "fraction", units)}</td>
                  <td className="text-right"><Fig figure={line.volume} plan={plan} /></td>
                </tr>
              ))}
              {plan.totals.need ? <tr><td className="font-semibold">to mix in all</td><td /><td className="text-right font-semibold"><Fig figure={plan.totals.need} plan={plan} /></td></tr> : null}
            </tbody>
          </table>
          <div className="mt-2"><QuantityField label="reserve, for colour matching" kind="fraction" optional origin="chosen" reading={stored.piece.reserve} help="on top of everything else; not a hidden margin" onCommit={(reserve) => edits.edit("reserve", (piece) => ({ ...piece, reserve }))} /></div>
        </section>
      ) : null}
      <Verdicts verdicts={plan.verdicts} stage="measure" />
    </>
  );
}
