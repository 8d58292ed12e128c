/** Measure: voids and coats one by one, each with its small drawing, what goes missing, and how level it
 *  stands. */
import { useState } from "react";
import type { Void } from "../../api/queries";
import { bandLike, text } from "../../domain/format";
import type { Coat } from "../../domain/surfaces";
import { Fig } from "../../ui/Fig";
import { QuantityField } from "../../ui/QuantityField";
import { useUnits } from "../../ui/session";
import { Verdicts } from "../../ui/Verdicts";
import type { StageProps } from "../props";
import { AddCoat } from "./AddCoat";
import { AddVoid } from "./AddVoid";
import { CoatEditor } from "./CoatEditor";
import { LevelPanel } from "./LevelPanel";
import { VoidEditor } from "./VoidEditor";

export function MeasureStage(props: StageProps) {
  const { stored, plan, edits, voidId, chooseVoid } = props;
  const { piece } = stored;
  const [voids, coats] = [piece.voids ?? [], piece.coats ?? []];
  const empty = voids.length + coats.length === 0;
  const [adding, setAdding] = useState<"void" | "coat" | null>(empty ? "void" : null);
  const { units } = useUnits();
  const changeVoid = (id: string) => (what: string, fn: (hollow: Void) => Void) =>
    edits.edit(what, (now) => ({
      ...now,
      voids: (now.voids ?? []).map((one) => (one.id === id ? fn(one) : one)),
    }));
  const changeCoat = (id: string) => (what: string, fn: (coat: Coat) => Coat) =>
    edits.edit(what, (now) => ({
      ...now,
      coats: (now.coats ?? []).map((one) => (one.id === id ? fn(one) : one)),
    }));
  const all = [...voids, ...coats];
  const openId = adding ? "" : (all.find((one) => one.id === voidId) ?? all[0])?.id;
  const choose = (id: string) => {
    chooseVoid(id);
    setAdding(null);
  };
  return (
    <>
      <h2 className="mt-2">How much is there to fill and to cover?</h2>
      <ul className="rule mt-1">
        {voids.map((hollow, index) => (
          <Line
            key={hollow.id}
            name={hollow.name}
            count={hollow.count ?? 1}
            open={hollow.id === openId}
            onOpen={() => choose(hollow.id)}
            figure={
              <Fig
                figure={plan.voids.find((one) => one.void_id === hollow.id)?.net}
                plan={plan}
                className="font-semibold"
                label={`Resin in ${hollow.name}`}
              />
            }
          >
            <VoidEditor
              pieceId={stored.id}
              hollow={hollow}
              index={index}
              plan={plan}
              tint={piece.tint ?? "#D39A3C"}
              change={changeVoid(hollow.id)}
              remove={() =>
                edits.edit("removed a void", (now) => ({
                  ...now,
                  voids: (now.voids ?? []).filter((one) => one.id !== hollow.id),
                }))
              }
            />
          </Line>
        ))}
        {coats.map((coat, index) => (
          <Line
            key={coat.id}
            name={`${coat.name}, coat`}
            count={coat.count ?? 1}
            open={coat.id === openId}
            onOpen={() => choose(coat.id)}
            figure={
              <Fig
                figure={plan.coats?.find((one) => one.coat_id === coat.id)?.net}
                plan={plan}
                className="font-semibold"
                label={`Resin on ${coat.name}`}
              />
            }
          >
            <CoatEditor
              coat={coat}
              index={index}
              piece={piece}
              plan={plan}
              change={changeCoat(coat.id)}
              remove={() =>
                edits.edit("removed a coat", (now) => ({
                  ...now,
                  coats: (now.coats ?? []).filter((one) => one.id !== coat.id),
                }))
              }
            />
          </Line>
        ))}
      </ul>
      {adding === "void" ? (
        <AddVoid
          pieceId={stored.id}
          piece={piece}
          onCancel={empty ? undefined : () => setAdding(null)}
          onAdd={async (hollows) => {
            await edits.edit(hollows.length > 1 ? "added voids" : "added a void", (now) => ({
              ...now,
              voids: [...(now.voids ?? []), ...hollows],
            }));
            choose(hollows[0]!.id);
          }}
        />
      ) : null}
      {adding === "coat" ? (
        <AddCoat
          piece={piece}
          onCancel={() => setAdding(empty ? "void" : null)}
          onAdd={async (coat) => {
            await edits.edit("added a coat", (now) => ({ ...now, coats: [...(now.coats ?? []), coat] }));
            choose(coat.id);
          }}
        />
      ) : null}
      <p className="mt-3 flex gap-4">
        {adding === "void" ? null : (
          <button className={adding ? "quiet" : "key"} onClick={() => setAdding("void")}>
            Add a void
          </button>
        )}
        {adding === "coat" ? null : (
          <button className={adding ? "quiet" : "key"} onClick={() => setAdding("coat")}>
            Add a coat
          </button>
        )}
      </p>
      {empty ? null : (
        <>
          {plan.totals.again ? (
            <p className="mt-4 border-l-4 border-spruce pl-3 text-[13.5px]">
              <b className="font-semibold">
                Off by up to{" "}
                <Fig
                  figure={plan.totals.band}
                  plan={plan}
                  as={
                    plan.totals.band && plan.totals.net
                      ? bandLike(plan.totals.band.value, plan.totals.net.value, units)
                      : undefined
                  }
                />
                .
              </b>{" "}
              {plan.totals.again}
            </p>
          ) : null}
          <section className="mt-5">
            <h2>Extra to mix (waste and soak)</h2>
            <table className="plain mt-1">
              <tbody>
                {(plan.totals.allowances ?? []).map((line) => (
                  <tr key={line.code}>
                    <td>{line.name}</td>
                    <td className="text-right text-slate">{text(line.share, "fraction", units)}</td>
                    <td className="text-right">
                      <Fig figure={line.volume} plan={plan} />
                    </td>
                  </tr>
                ))}
                {plan.totals.need ? (
                  <tr>
                    <td className="font-semibold" colSpan={2}>
                      to mix in all
                    </td>
                    <td className="text-right font-semibold">
                      <Fig figure={plan.totals.need} plan={plan} />
                    </td>
                  </tr>
                ) : null}
              </tbody>
            </table>
            <div className="mt-2">
              <QuantityField
                label="reserve, for colour matching"
                kind="fraction"
                optional
                origin="chosen"
                reading={piece.reserve}
                help="on top of everything else; not a hidden margin"
                onCommit={(reserve) => edits.edit("reserve", (now) => ({ ...now, reserve }))}
              />
            </div>
          </section>
          <LevelPanel piece={piece} plan={plan} edits={edits} />
        </>
      )}
      <Verdicts verdicts={plan.verdicts} stage="measure" />
    </>
  );
}

function Line({
  name,
  count,
  open,
  onOpen,
  figure,
  children,
}: {
  name: string;
  count: number;
  open: boolean;
  onOpen: () => void;
  figure: React.ReactNode;
  children: React.ReactNode;
}) {
  return (
    <li className="py-2">
      <div className="flex items-baseline gap-2">
        <button className="font-semibold text-left" aria-expanded={open} onClick={onOpen}>
          {open ? "▾" : "▸"} {name}
          {count > 1 ? `, ${count} alike` : ""}
        </button>
        <span className="ml-auto">{figure}</span>
      </div>
      {open ? children : null}
    </li>
  );
}
