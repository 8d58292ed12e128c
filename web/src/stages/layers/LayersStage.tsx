/** Layers: the ways to split side by side, each worked out in full; of a piece that is only coated, its coats. */
import { RadioGroup } from "radix-ui";
import { Link } from "react-router";
import type { Present, Schemas } from "../../api/client";
import { useOptions, type Piece } from "../../api/queries";
import { Fig } from "../../ui/Fig";
import { degrees, moment, show, text } from "../../domain/format";
import { ofHundred } from "../../domain/heat";
import { useUnits } from "../../ui/session";
import { Unsaid } from "../../ui/Unsaid";
import { Verdicts } from "../../ui/Verdicts";
import { SectionAndClock } from "../Drawings";
import { Spread } from "../Spread";
import type { StageProps } from "../props";
import { Around } from "./Around";
import { Coats } from "./Coats";
import { EarlyOrLate } from "./EarlyOrLate";
import { InThree } from "./InThree";
import { Probe } from "./Probe";
import { WhatIf } from "./WhatIf";

type Split = Present<Piece["layering"]>;
type Option = Present<ReturnType<typeof useOptions>["data"]>[number];

export function LayersStage(props: StageProps) {
  const { stored } = props;
  if (!(stored.piece.voids ?? []).length && (stored.piece.coats ?? []).length) return <Coats {...props} />;
  return <Ways {...props} />;
}

function Ways({ stored, plan, edits, voidId, preview }: StageProps) {
  const options = useOptions(stored.id, stored.revision);
  const isPending = !!plan.pours.length && options.isPending;
  return (
    <Spread
      question="How shall it be poured?"
      strip="none"
      side={
        // The ways come first and push down what stands below them: till they are in, it is there to be read, not tapped.
        <div inert={isPending}>
          {plan.pours.length ? (
            <>
              <Unsaid what="room" />
              {options.error ? (
                <p role="alert" className="text-rust">
                  {options.error.message}
                </p>
              ) : null}
              {isPending ? <p className="mt-2 text-slate">Trying each way to split it …</p> : null}
              <Splits options={options.data ?? []} stored={stored} edits={edits} />
              <OtherSplits stored={stored} edits={edits} />
            </>
          ) : (
            <Next stored={stored} plan={plan} />
          )}
          <Verdicts verdicts={plan.verdicts} stage="layers" />
          <WhyNoDeeper plan={plan} />
          <WhatIf stored={stored} plan={plan} edits={edits} voidId={voidId} preview={preview} />
          <EarlyOrLate plan={plan} voidId={voidId} />
          <Around stored={stored} plan={plan} edits={edits} voidId={voidId} />
          <InThree stored={stored} plan={plan} voidId={voidId} />
          <Probe stored={stored} plan={plan} voidId={voidId} />
          {plan.heat_notes?.length ? (
            <details className="mt-4">
              <summary className="quiet">What the heat rests on</summary>
              {plan.heat_notes.map((note) => (
                <p key={note} className="mt-1 text-[13px]">
                  {note}
                </p>
              ))}
            </details>
          ) : null}
        </div>
      }
    >
      <SectionAndClock />
    </Spread>
  );
}

/** What has to be said before there is anything to split. */
function Next({ stored, plan }: Pick<StageProps, "stored" | "plan">) {
  const [to, words] = plan.sections.length
    ? (["resin", "Choose a resin"] as const)
    : (["measure", "Measure the void"] as const);
  return (
    <p className="mt-3">
      <Link className="quiet" to={`/pieces/${stored.id}/${to}`}>
        {words}
      </Link>
      , and the ways to split it stand here.
    </p>
  );
}

const OTHERS: [Split, string][] = [
  ["even", "equal layers"],
  ["volumes", "equal volumes"],
  ["whole", "the whole mould in one"],
];

/** Ways that are not worked out beside the others until they are chosen. */
function OtherSplits({ stored, edits }: Pick<StageProps, "stored" | "edits">) {
  const left = OTHERS.filter(([choice]) => choice !== stored.piece.layering);
  return (
    <p className="mt-1.5 text-[13px] text-slate">
      Or:{" "}
      {left.map(([choice, name], place) => (
        <span key={choice}>
          {place ? ", " : ""}
          <button
            className="quiet"
            onClick={() => void edits.edit("split", (piece) => ({ ...piece, layering: choice }))}
          >
            {name}
          </button>
        </span>
      ))}
    </p>
  );
}

/** The ways to split, each worked out in full. */
function Splits({ options, stored, edits }: Pick<StageProps, "stored" | "edits"> & { options: Option[] }) {
  const { units, zone } = useUnits();
  return (
    <RadioGroup.Root
      aria-label="Split"
      className="mt-2"
      value={stored.piece.layering ?? ""}
      onValueChange={(layering) =>
        void edits.edit("split", (piece) => ({ ...piece, layering: layering as Split }))
      }
    >
      {options.map((option) => {
        const on = stored.piece.layering === option.choice;
        const deepest = Math.max(...option.depths_m, 1e-9);
        return (
          <RadioGroup.Item
            key={option.choice}
            value={option.choice}
            disabled={!option.offered && !on}
            className={`w-full text-left grid grid-cols-[22px_1fr_auto] gap-x-2.5 px-2 py-2 border-b border-line items-center ${on ? "border-2 border-spruce! rounded-[3px] bg-raised" : ""}`}
          >
            <svg width="20" height="36" aria-hidden="true">
              {option.depths_m.map((depth, index) => {
                const each = 36 / Math.max(option.depths_m.length, 1);
                return (
                  <rect
                    key={index}
                    x="1"
                    y={36 - (index + 1) * each + 0.5}
                    width={6 + 12 * (depth / deepest)}
                    height={Math.max(each - 1.5, 1)}
                    fill={stored.piece.tint}
                    stroke="var(--ink)"
                    strokeWidth="0.6"
                  />
                );
              })}
            </svg>
            <span>
              <b className="font-semibold">{option.title}</b>
              <small className="block text-[12.5px] text-slate">
                {option.offered || option.pours ? `${depthsWords(option.depths_m, units)}` : ""}
                {option.peak_c != null ? (
                  <span className={option.too_hot ? "text-rust font-semibold" : ""}>
                    {" "}
                    · {option.runs_away ? "overheats" : `to ${degrees(option.peak_c, units)}`}
                    {option.chance?.is_risky && !option.runs_away ? (
                      <b className="text-rust font-semibold">
                        , {ofHundred(option.chance.over_never)} of a hundred overheat
                      </b>
                    ) : null}
                  </span>
                ) : (
                  ""
                )}
                {option.offered
                  ? option.sanded
                    ? ` · sanded ${option.sanded === 1 ? "once" : `${option.sanded} times`}`
                    : ""
                  : ` · ${option.reason}`}
              </small>
            </span>
            <span className="text-right text-[13px]">
              {!option.offered
                ? "not offered"
                : option.out_of_form_at
                  ? moment(option.out_of_form_at, zone)
                  : "not in this room"}
              <small className="block text-[12px] text-slate">
                {option.pours} {option.pours === 1 ? "pour" : "pours"}
                {option.hands_on_s
                  ? `, ${show(option.hands_on_s, "duration", units).number} ${show(option.hands_on_s, "duration", units).unit}`
                  : ""}
              </small>
            </span>
          </RadioGroup.Item>
        );
      })}
    </RadioGroup.Root>
  );
}

/** What limits each layer, how sure its peak is, and what is wanted of it. */
function WhyNoDeeper({ plan }: { plan: StageProps["plan"] }) {
  const { units } = useUnits();
  return (
    <section className="mt-4">
      <h2>Why no deeper</h2>
      <ul className="rule">
        {plan.pours.map((pour) =>
          pour.layers.map((layer) => {
            const heat = layer.heat;
            const chance = heat?.chance;
            return (
              <li key={`${layer.void_id}-${layer.number}`} className="py-1.5 text-[13px]">
                <b className="font-semibold">Layer {layer.number}</b>
                {plan.voids.length > 1
                  ? ` of ${plan.voids.find((one) => one.void_id === layer.void_id)?.name}`
                  : ""}
                , {text(layer.to_m - layer.from_m, "length", units)}: {layer.limited_by}.
                {heat?.batch_kg && heat.began_c != null ? (
                  <span className="block text-slate">
                    Poured at {degrees(heat.began_c, units)}
                    {(heat.began_cured ?? 0) >= 0.005
                      ? `, ${Math.round((heat.began_cured ?? 0) * 100)} % of the cure done`
                      : ""}
                    , {text(heat.stood_s ?? 0, "duration", units)} after the first stir.
                  </span>
                ) : null}
                {heat?.shrinks ? <Shrinking found={heat.shrinks} plan={plan} /> : null}
                {heat?.wood_rise ? (
                  <span className="block text-slate">
                    The wood next to it warms by <Fig figure={heat.wood_rise} plan={plan} /> before it gels.
                  </span>
                ) : null}
                {heat && chance ? (
                  <span className="block text-slate">
                    Of a hundred such pours 80 peak between {degrees(chance.low_c, units)} and{" "}
                    {degrees(chance.high_c, units)}; {ofHundred(chance.over_wanted)} pass{" "}
                    {degrees(heat.wanted_c, units)},{" "}
                    <span className={chance.is_risky ? "text-rust font-semibold" : ""}>
                      {ofHundred(chance.over_never)} {degrees(heat.never_c, units)}
                    </span>
                    .
                  </span>
                ) : null}
              </li>
            );
          }),
        )}
      </ul>
    </section>
  );
}

function depthsWords(depths: number[], units: "metric" | "us"): string {
  if (!depths.length) return "";
  const shown = depths.map((depth) => show(depth, "length", units));
  const alike = shown.every((one) => one.number === shown[0]!.number);
  return alike && depths.length > 2
    ? `${depths.length} × ${shown[0]!.number} ${shown[0]!.unit}`
    : `${shown.map((one) => one.number).join(" + ")} ${shown[0]!.unit}`;
}

/** Nearer than a rule shows. */
const AT_ITS_LINE_M = 1e-4;

/** How its size changes: told where a maker would see it. */
function Shrinking({ found, plan }: { found: Schemas["Shrinks"]; plan: StageProps["plan"] }) {
  const { units } = useUnits();
  return (
    <span className="block text-slate">
      Its level falls by <Fig figure={found.drop} plan={plan} />, and ends{" "}
      {Math.abs(found.level.value) < AT_ITS_LINE_M ? null : (
        <>
          <Fig
            figure={found.level}
            plan={plan}
            as={show(Math.abs(found.level.value), "length", units)}
          />{" "}
        </>
      )}
      {Math.abs(found.level.value) < AT_ITS_LINE_M ? "at" : found.level.value < 0 ? "below" : "above"} its
      line. Once gelled it shrinks by <Fig figure={found.strain} plan={plan} />
      {found.borne == null && found.gap ? (
        <>
          : a gap of up to <Fig figure={found.gap} plan={plan} /> at each side
        </>
      ) : null}
      .
    </span>
  );
}
