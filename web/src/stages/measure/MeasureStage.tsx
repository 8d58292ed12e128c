/** Measure: voids and coats one by one, each with its small drawing, what goes missing, and how level it
 *  stands. */
import { useEffect, useRef, useState, type ReactNode } from "react";
import type { Piece, Void } from "../../api/queries";
import { bandLike, text } from "../../domain/format";
import type { Coat } from "../../domain/surfaces";
import { formOf } from "../../domain/work";
import { Check } from "../../ui/Check";
import { Fig } from "../../ui/Fig";
import { QuantityField } from "../../ui/QuantityField";
import { useUnits } from "../../ui/session";
import { Verdicts } from "../../ui/Verdicts";
import type { StageProps } from "../props";
import { Spread } from "../Spread";
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
  const [adding, setAdding] = useState<"void" | "coat" | null>(
    empty ? formOf(piece.kind_of_work).adds : null,
  );
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
  // What was just added has the focus: the key that added it is gone.
  const isAdded = useRef(false);
  const tabs = useRef<HTMLDivElement>(null);
  useEffect(() => {
    if (!isAdded.current || !openId) return;
    isAdded.current = false;
    tabs.current?.querySelector<HTMLElement>("[aria-expanded=true]")?.focus();
  }, [openId]);
  const openVoid = voids.findIndex((one) => one.id === openId);
  const openCoat = coats.findIndex((one) => one.id === openId);
  const form = formOf(piece.kind_of_work);
  return (
    <Spread
      question="How much is there to fill and to cover?"
      side={
        <>
          {empty ? null : <Extra piece={piece} plan={plan} edits={edits} />}
          <Verdicts verdicts={plan.verdicts} stage="measure" />
        </>
      }
    >
      <div ref={tabs} className="mt-2 flex flex-wrap gap-x-2 gap-y-1 items-stretch border-b border-line pb-2">
        {voids.map((hollow) => (
          <Tab
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
          />
        ))}
        {coats.map((coat) => (
          <Tab
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
          />
        ))}
        <span className="flex gap-4 items-center pl-1">
          {adding === "void" ? null : (
            <button className="quiet" onClick={() => setAdding("void")}>
              Add a void
            </button>
          )}
          {adding === "coat" ? null : (
            <button className="quiet" onClick={() => setAdding("coat")}>
              Add a coat
            </button>
          )}
        </span>
      </div>
      {openVoid >= 0 ? (
        <VoidEditor
          key={openId}
          pieceId={stored.id}
          hollow={voids[openVoid]!}
          index={openVoid}
          plan={plan}
          tint={piece.tint ?? "#D39A3C"}
          seldom={form.seldom}
          change={changeVoid(openId!)}
          remove={() =>
            edits.edit("removed a void", (now) => ({
              ...now,
              voids: (now.voids ?? []).filter((one) => one.id !== openId),
            }))
          }
        />
      ) : null}
      {openCoat >= 0 ? (
        <CoatEditor
          key={openId}
          coat={coats[openCoat]!}
          index={openCoat}
          piece={piece}
          plan={plan}
          change={changeCoat(openId!)}
          remove={() =>
            edits.edit("removed a coat", (now) => ({
              ...now,
              coats: (now.coats ?? []).filter((one) => one.id !== openId),
            }))
          }
        />
      ) : null}
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
            isAdded.current = true;
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
            isAdded.current = true;
            choose(coat.id);
          }}
        />
      ) : null}
      {empty ? null : <LevelPanel piece={piece} plan={plan} edits={edits} />}
      {coats.length ? <CoverFields piece={piece} edits={edits} /> : null}
      {coats.length && voids.length ? (
        <Check
          className="items-center mt-2"
          checked={piece.sealed_with_filling ?? false}
          onChange={(sealed_with_filling) =>
            edits.edit("one visit", (now) => ({ ...now, sealed_with_filling }))
          }
        >
          the first coat is laid in one visit with the filling, where both are of one resin
        </Check>
      ) : null}
    </Spread>
  );
}

/** What is put over it against dust. */
function CoverFields({ piece, edits }: { piece: Piece } & Pick<StageProps, "edits">) {
  const cover = piece.cover;
  const set = (part: Partial<NonNullable<Piece["cover"]>>) =>
    edits.edit("cover", (now) => ({ ...now, cover: { ...(now.cover ?? COVER), ...part } }));
  return (
    <section aria-label="Cover" className="mt-4">
      <h2>What covers it?</h2>
      {cover ? (
        <div className="grid grid-cols-2 gap-2.5 mt-1 max-w-[420px]">
          <QuantityField
            label="cover, long"
            kind="length"
            reading={cover.length_m}
            pointer="/cover/length_m"
            onCommit={(reading) => (reading ? set({ length_m: reading }) : undefined)}
          />
          <QuantityField
            label="cover, wide"
            kind="length"
            reading={cover.width_m}
            pointer="/cover/width_m"
            onCommit={(reading) => (reading ? set({ width_m: reading }) : undefined)}
          />
          <button
            className="quiet text-left"
            onClick={() => void edits.edit("no cover", (now) => ({ ...now, cover: null }))}
          >
            Leave it out
          </button>
        </div>
      ) : (
        <button className="quiet" onClick={() => void set({})}>
          Say how large the cover is
        </button>
      )}
    </section>
  );
}

const COVER = {
  length_m: { value: 1, as_typed: "1 m", origin: "typical" as const },
  width_m: { value: 0.6, as_typed: "600 mm", origin: "typical" as const },
};

/** How sure the litres are, and what goes missing on the way. */
function Extra({ piece, plan, edits }: { piece: Piece } & Pick<StageProps, "plan" | "edits">) {
  const { units } = useUnits();
  return (
    <>
      {plan.totals.again ? (
        <p className="mt-3 border-l-4 border-spruce pl-3 text-[13.5px]">
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
      <section className="mt-3">
        <h2>Extra to mix (waste and soak)</h2>
        <table className="plain mt-1">
          <tbody>
            {(plan.totals.allowances ?? []).map((line) => (
              <tr key={line.code}>
                <td>{line.name}</td>
                <td className="text-right text-slate whitespace-nowrap">
                  {text(line.share, "fraction", units)}
                </td>
                <td className="text-right whitespace-nowrap">
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
    </>
  );
}

interface TabProps {
  name: string;
  count: number;
  open: boolean;
  onOpen: () => void;
  figure: ReactNode;
}

function Tab({ name, count, open, onOpen, figure }: TabProps) {
  return (
    <span
      className={`flex items-baseline gap-2 px-3 py-1.5 min-h-10 rounded-[3px] border ${open ? "border-spruce bg-raised" : "border-line"}`}
    >
      <button className="font-semibold text-left" aria-expanded={open} onClick={onOpen}>
        {name}
        {count > 1 ? `, ${count} alike` : ""}
      </button>
      {figure}
    </span>
  );
}
