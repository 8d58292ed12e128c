/** Resin: the systems on the shelf side by side on this very piece, on one axis of days, what there is to buy, and
 *  whether the sheet is trusted. */
import { RadioGroup } from "radix-ui";
import { useState } from "react";
import { Link } from "react-router";
import { useCandidates, usePieceStock, useShelf } from "../../api/queries";
import type { Schemas } from "../../api/client";
import { moment, show, text } from "../../domain/format";
import { useUnits } from "../../ui/session";
import { useOnce } from "../../ui/useOnce";
import { Cautions, Verdicts } from "../../ui/Verdicts";
import type { StageProps } from "../props";
import { OnItsSheet } from "../OnItsSheet";
import { Spread } from "../Spread";
import { Buying } from "./Buying";
import { axisOf, DaysBar, DaysHead, type DaysAxis } from "./Days";

export type Candidate = Schemas["Candidate"];

export function ResinStage({ stored, plan, edits }: StageProps) {
  const { candidates, areChancesPending, error } = useCandidates(stored.id, stored.revision);
  const shelf = useShelf();
  const stock = usePieceStock(stored.id, stored.revision);
  const [showsAll, setShowsAll] = useState(false);
  const chosen = stored.piece.system_id;
  const typical = chosen ? (plan.typical[chosen] ?? []) : [];
  const rank = (one: Candidate) => (one.facts.runs_away ? 1000 : 0) + (one.facts.pours ?? 0);
  const sorted = [...(candidates ?? [])].sort((a, b) => rank(a) - rank(b));
  const fits = (one: Candidate) => one.facts.offered || one.facts.system_id === chosen;
  const unfit = sorted.filter((one) => !fits(one));
  const isMeasured = plan.sections.length > 0;
  // What speaks against a system may hang on its chances, and its row grows with them: to be read at once, chosen after.
  const isSettled = useOnce(!areChancesPending || !!error);
  const isWhole = useOnce(isSettled && !stock.isPending);
  return (
    <Spread question="Which resin suits this piece?" strip={isWhole ? "both" : "none"}>
      {error ? (
        <p role="alert" className="text-rust">
          {error.message}
        </p>
      ) : !candidates ? (
        <p className="text-slate">Trying each on this piece …</p>
      ) : isMeasured && (areChancesPending || candidates.some((one) => one.facts.chance)) ? (
        <p role="status" className="text-slate text-[13px]">
          {areChancesPending
            ? "How far each peak may vary is still worked out …"
            : "Under each peak: where eight of ten pours peak."}
        </p>
      ) : null}
      {candidates?.length === 0 ? (
        <p className="mt-1">
          The shelf is empty.{" "}
          <Link className="quiet" to={`/shelf?for=${stored.id}`}>
            Put a system on it
          </Link>{" "}
          or{" "}
          <Link className="quiet" to={`/shelf/read?for=${stored.id}`}>
            read a data sheet
          </Link>
        </p>
      ) : null}
      {candidates?.length && !isMeasured ? (
        <p className="mt-1">
          <Link className="quiet" to={`/pieces/${stored.id}/measure`}>
            Measure the piece
          </Link>
          , and each system is tried on it; choose one already if you know.
        </p>
      ) : null}
      <RadioGroup.Root
        aria-label="Resin system"
        disabled={!isSettled}
        className="mt-1"
        value={chosen ?? ""}
        onValueChange={(system_id) =>
          void edits
            .edit("resin system", (piece) => ({
              ...piece,
              system_id,
              layering: !piece.layering || piece.layering === "own" ? "fewest" : piece.layering,
            }))
            .catch(() => undefined)
        }
      >
        <Rows
          shown={sorted.filter((one) => fits(one) || showsAll || !isMeasured)}
          chosen={chosen ?? ""}
          isMeasured={isMeasured}
          areChancesPending={areChancesPending}
        />
      </RadioGroup.Root>
      {isMeasured && unfit.length ? (
        <p className="mt-2 text-[13px]">
          <b className="font-semibold">Not for this piece.</b>{" "}
          {showsAll
            ? ""
            : unfit.map((one) => (
                <span key={one.facts.system_id} className="text-slate">
                  {one.facts.name}: {said(one.reasons.against || one.facts.why_not)}{" "}
                </span>
              ))}
          <button className="quiet" aria-expanded={showsAll} onClick={() => setShowsAll(!showsAll)}>
            {showsAll ? "Fold them away" : "Show them all the same"}
          </button>
        </p>
      ) : null}
      {isWhole ? (
        <>
          {candidates?.length ? (
            <p className="mt-2">
              <Link className="quiet text-[13px]" to={`/shelf/read?for=${stored.id}`}>
                Read a data sheet for this piece
              </Link>{" "}
              <Link className="quiet text-[13px] ml-4" to={`/shelf?for=${stored.id}`}>
                Another system, typed by hand
              </Link>
            </p>
          ) : null}
          <div className="gap-x-10 columns-[320px] *:break-inside-avoid">
            <div>
              <Verdicts
                verdicts={[
                  ...plan.verdicts,
                  ...(stock.data?.verdicts ?? []).map((one) => ({ ...one, stage: "resin" as const })),
                ]}
                stage="resin"
              />
            </div>
            <div>
              {chosen && stock.data?.buy.length ? (
                <Buying buy={stock.data.buy} title="To buy for this piece" />
              ) : null}
              {chosen && typical.length ? (
                <section className="mt-4">
                  <h2>Rests on typical values</h2>
                  <p className="mt-1 text-[13.5px]">
                    {typical.length} values of{" "}
                    {shelf.data?.find((sheet) => sheet.system.id === chosen)?.system.name ?? chosen} are
                    typical of its class and not from your sheet.{" "}
                    <Link className="quiet" to={`/shelf/${chosen}`}>
                      Compare and confirm them
                    </Link>
                  </p>
                </section>
              ) : null}
              <OnItsSheet piece={stored.piece} />
              <Cautions cautions={plan.cautions} />
            </div>
          </div>
        </>
      ) : null}
    </Spread>
  );
}

/** A reason with a full stop and no more. */
const said = (why: string | undefined) => (why ? `${why.replace(/\.$/, "")}.` : "");

const COLUMNS =
  "grid items-center gap-x-4 grid-cols-[minmax(150px,1.1fr)_92px_minmax(180px,2.2fr)_86px_66px_minmax(170px,1.3fr)] max-lg:grid-cols-[minmax(130px,1fr)_84px_minmax(140px,1.6fr)_78px] max-sm:grid-cols-2";

interface RowsProps {
  shown: Candidate[];
  chosen: string;
  isMeasured: boolean;
  areChancesPending: boolean;
}

function Rows({ shown, chosen, isMeasured, areChancesPending }: RowsProps) {
  const axis = axisOf(shown.flatMap((one) => (one.clock ? [one.clock] : [])));
  if (!isMeasured)
    return shown.map((one) => (
      <RadioGroup.Item
        key={one.facts.system_id}
        value={one.facts.system_id}
        className={rowLook(one.facts.system_id === chosen)}
      >
        <span className="font-semibold text-[15px]">{one.facts.name}</span>
      </RadioGroup.Item>
    ));
  return (
    <>
      <div className={`${COLUMNS} px-2 text-[13px] text-slate max-sm:hidden`} aria-hidden>
        <span />
        <span>peak</span>
        {axis ? <DaysHead axis={axis} /> : <span />}
        <span>to buy</span>
        <span className="max-lg:hidden">hands on</span>
        <span className="max-lg:hidden">for it, against it</span>
      </div>
      {shown.map((one) => (
        <RadioGroup.Item
          key={one.facts.system_id}
          value={one.facts.system_id}
          className={`${COLUMNS} ${rowLook(one.facts.system_id === chosen)}`}
        >
          <Row one={one} axis={axis} isChancePending={areChancesPending} />
        </RadioGroup.Item>
      ))}
    </>
  );
}

const rowLook = (isOn: boolean) =>
  `w-full text-left px-2 py-2 border-b border-line min-h-11 ${isOn ? "border-2 border-spruce! rounded-[3px] bg-raised" : ""}`;

interface RowProps {
  one: Candidate;
  axis: DaysAxis | null;
  isChancePending: boolean;
}

function Row({ one, axis, isChancePending }: RowProps) {
  const { units, currency, zone } = useUnits();
  const { facts, reasons } = one;
  const isHot =
    !!facts.chance?.is_risky ||
    (typeof facts.peak_c === "number" && typeof facts.wanted_c === "number" && facts.peak_c > facts.wanted_c);
  return (
    <>
      <span>
        <span className="block font-semibold text-[15px] leading-tight">{facts.name}</span>
        <span className="block text-[12.5px] text-slate">
          {facts.typical ? `${facts.typical} values typical` : "your sheet"}
          {facts.offered ? `, ${facts.pours} ${facts.pours === 1 ? "pour" : "pours"}` : ", not offered"}
        </span>
      </span>
      <PeakBand one={one} isHot={isHot} isChancePending={isChancePending} />
      <span className="max-sm:col-span-2">
        {one.clock && axis ? <DaysBar clock={one.clock} axis={axis} zone={zone} /> : null}
        {facts.offered ? (
          <span className="block text-[12.5px] text-slate">
            {facts.is_coat ? "may be handled" : "out of the form"}{" "}
            {facts.out_of_form_at ? (
              moment(facts.out_of_form_at, zone)
            ) : (
              <b className="font-semibold text-rust">never in this room</b>
            )}
            , {facts.visits} {facts.visits === 1 ? "visit" : "visits"}
          </span>
        ) : null}
      </span>
      <span className="font-semibold text-[14px]">
        <span className="sm:hidden font-normal text-slate">to buy: </span>
        {!facts.offered
          ? "–"
          : typeof facts.buy_minor === "number"
            ? facts.in_stock
              ? "on the shelf"
              : text(facts.buy_minor, "money", units, currency)
            : "no price"}
      </span>
      <span className="font-semibold text-[14px] max-lg:hidden">
        {facts.offered ? text(facts.hands_on_s ?? 0, "duration", units) : "–"}
      </span>
      <span className="text-[13px] leading-snug max-lg:col-span-full">
        {reasons.for_it ? (
          <span className="block">
            <b className="font-semibold text-spruce">For it:</b> {reasons.for_it}
          </span>
        ) : null}
        {reasons.against || (!facts.offered && facts.why_not) ? (
          <span className="block">
            <b className="font-semibold text-rust">{facts.offered ? "Against:" : "Why not:"}</b>{" "}
            {reasons.against || facts.why_not}
          </span>
        ) : null}
      </span>
    </>
  );
}

interface PeakBandProps {
  one: Candidate;
  isHot: boolean;
  isChancePending: boolean;
}

/** How hot, and between which two eight of ten such pours stay. */
function PeakBand({ one, isHot, isChancePending }: PeakBandProps) {
  const { units } = useUnits();
  const { facts } = one;
  const degrees = (celsius: number) => show(celsius, "temperature", units).number.replace(/\.\d$/, "");
  const unit = units === "us" ? "°F" : "°C";
  if (!facts.offered) return <span className="text-[13px] text-slate">–</span>;
  if (typeof facts.peak_c !== "number") return <span className="text-[13px] text-slate">not computed</span>;
  return (
    <span className={`leading-tight whitespace-nowrap ${isHot ? "text-rust" : ""}`}>
      <span className="sr-only">peak </span>
      <b className="font-semibold text-[15px]">
        {facts.runs_away ? "overheats" : `${degrees(facts.peak_c)} ${unit}`}
      </b>
      {facts.chance ? (
        <span className={`block text-[12.5px] ${isHot ? "font-semibold" : "text-slate"}`}>
          {degrees(facts.chance.low_c)} to {degrees(facts.chance.high_c)}
        </span>
      ) : isChancePending ? (
        <span className="block text-[12.5px] text-slate">…</span>
      ) : null}
    </span>
  );
}
