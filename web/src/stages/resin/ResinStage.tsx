/** Resin: the systems on the shelf side by side on this very piece, what there is to buy, and whether the
 *  sheet is trusted. */
import { Link } from "react-router";
import { useCandidates, usePieceStock, useShelf } from "../../api/queries";
import type { Schemas } from "../../api/client";
import { moment, show, text } from "../../domain/format";
import { useUnits } from "../../ui/session";
import { Verdicts } from "../../ui/Verdicts";
import type { StageProps } from "../props";
import { Buying } from "./Buying";

type Candidate = Schemas["Candidate"];

export function ResinStage({ stored, plan, edits }: StageProps) {
  const { candidates, areChancesPending, error } = useCandidates(stored.id, stored.revision);
  const shelf = useShelf();
  const stock = usePieceStock(stored.id, stored.revision);
  const chosen = stored.piece.system_id;
  const typical = chosen ? (plan.typical[chosen] ?? []) : [];
  const rank = (one: Candidate) =>
    (one.facts.runs_away ? 2000 : 0) + (one.facts.offered ? 0 : 1000) + (one.facts.pours ?? 0);
  const sorted = [...(candidates ?? [])].sort((a, b) => rank(a) - rank(b));
  return (
    <>
      <h2 className="mt-2">Which system suits?</h2>
      {error ? (
        <p role="alert" className="text-rust">
          {error.message}
        </p>
      ) : !candidates ? (
        <p className="text-slate">Trying each on this piece …</p>
      ) : areChancesPending && candidates.length ? (
        <p role="status" className="text-slate">
          How often each would get too hot is still being worked out …
        </p>
      ) : null}
      {candidates?.length === 0 ? (
        <p className="mt-1">
          The shelf is empty.{" "}
          <Link className="quiet" to="/shelf">
            Put a system on it
          </Link>
        </p>
      ) : null}
      <div role="radiogroup" aria-label="Resin system" className="mt-1">
        {sorted.map((one) => (
          <Option
            key={one.facts.system_id}
            one={one}
            on={one.facts.system_id === chosen}
            onChoose={() =>
              void edits
                .edit("resin system", (piece) => ({
                  ...piece,
                  system_id: one.facts.system_id,
                  layering: !piece.layering || piece.layering === "own" ? "fewest" : piece.layering,
                }))
                .catch(() => undefined)
            }
          />
        ))}
      </div>
      {chosen && stock.data?.buy.length ? (
        <Buying buy={stock.data.buy} title="To buy for this piece" />
      ) : null}
      {chosen && typical.length ? (
        <section className="mt-4">
          <h2>Rests on typical values</h2>
          <p className="mt-1 text-[13.5px]">
            {typical.length} values of{" "}
            {shelf.data?.find((sheet) => sheet.system.id === chosen)?.system.name ?? chosen} are typical of
            its class and not from your sheet.{" "}
            <Link className="quiet" to={`/shelf/${chosen}`}>
              Compare and confirm them
            </Link>
          </p>
        </section>
      ) : null}
      <Verdicts
        verdicts={[
          ...plan.verdicts,
          ...(stock.data?.verdicts ?? []).map((one) => ({ ...one, stage: "resin" as const })),
        ]}
        stage="resin"
      />
      {plan.cautions.length ? (
        <section className="mt-4">
          <h2>With care</h2>
          {plan.cautions.map((caution) => (
            <p key={caution} className="mt-1 text-[13px]">
              {caution}
            </p>
          ))}
        </section>
      ) : null}
    </>
  );
}

function Option({ one, on, onChoose }: { one: Candidate; on: boolean; onChoose: () => void }) {
  const { units, currency, zone } = useUnits();
  const facts = one.facts;
  const degrees = (celsius: number) => show(celsius, "temperature", units).number.replace(/\.\d$/, "");
  const hot =
    !!facts.chance?.is_risky ||
    (typeof facts.peak_c === "number" && typeof facts.wanted_c === "number" && facts.peak_c > facts.wanted_c);
  return (
    <button
      role="radio"
      aria-checked={on}
      onClick={onChoose}
      className={`w-full text-left px-2 py-2 border-b border-line ${on ? "border-2 border-spruce! rounded-[3px] bg-raised" : ""}`}
    >
      <span className="flex justify-between gap-2">
        <span className="font-medium">{facts.name}</span>
        <span className="font-semibold whitespace-nowrap">
          {facts.offered ? `${facts.pours} ${facts.pours === 1 ? "pour" : "pours"}` : "not offered"}
        </span>
      </span>
      {facts.offered ? (
        <span className="grid grid-cols-[auto_1fr_auto_1fr] gap-x-2 text-[12.5px] mt-0.5">
          <Cell name="peak" strong={hot}>
            {typeof facts.peak_c === "number" ? (
              facts.runs_away ? (
                "overheats"
              ) : (
                <>
                  {degrees(facts.peak_c)}
                  {facts.chance
                    ? ` (${degrees(facts.chance.low_c)} to ${degrees(facts.chance.high_c)})`
                    : ""}{" "}
                  °{units === "us" ? "F" : "C"}
                </>
              )
            ) : (
              "not computed"
            )}
          </Cell>
          <Cell name="hands on">{text(facts.hands_on_s ?? 0, "duration", units)}</Cell>
          <Cell name="takes">
            {typeof facts.days === "number" ? text(facts.days * 86400, "duration", units) : "–"}
          </Cell>
          <Cell name="visits">{facts.visits}</Cell>
          <Cell name="to buy">
            {typeof facts.buy_minor === "number"
              ? facts.in_stock
                ? "nothing"
                : text(facts.buy_minor, "money", units, currency)
              : "no price"}
          </Cell>
          <Cell name="left over">
            {typeof facts.left_kg === "number" ? text(facts.left_kg, "mass", units) : "–"}
          </Cell>
          <span className="col-span-4 text-slate">
            out of the form{" "}
            {facts.out_of_form_at ? (
              moment(facts.out_of_form_at, zone)
            ) : (
              <b className="font-semibold text-rust">never in this room</b>
            )}
          </span>
        </span>
      ) : null}
      {one.reasons.for_it ? (
        <span className="block text-[12.5px] mt-0.5">
          <b className="font-semibold text-spruce">For it:</b> {one.reasons.for_it}
        </span>
      ) : null}
      {one.reasons.against ? (
        <span className="block text-[12.5px]">
          <b className="font-semibold text-rust">{facts.offered ? "Against:" : "Why not:"}</b>{" "}
          {one.reasons.against}
        </span>
      ) : !facts.offered && facts.why_not ? (
        <span className="block text-[12.5px]">
          <b className="font-semibold text-rust">Why not:</b> {facts.why_not}
        </span>
      ) : null}
    </button>
  );
}

function Cell({ name, strong, children }: { name: string; strong?: boolean; children: React.ReactNode }) {
  return (
    <>
      <span className="text-slate">{name}</span>
      <span className={`font-medium whitespace-nowrap ${strong ? "text-rust" : ""}`}>{children}</span>
    </>
  );
}
