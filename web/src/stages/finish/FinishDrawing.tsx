/** The days of finishing: when each test is likely to be passed, what is done in which order, the ladder of
 *  grits, the oven. */
import { scaleLinear, scaleTime } from "d3-scale";
import type { Schemas } from "../../api/client";
import type { Stored } from "../../api/queries";
import { moment, text } from "../../domain/format";
import { hourTicks, midnights } from "../../domain/time";
import { useWidth } from "../../drawing/useWidth";
import { Fig } from "../../ui/Fig";
import { useShop, useUnits } from "../../ui/session";
import { Empty, Waiting } from "../../ui/states";
import { useFinish, type Gate } from "./finish";

export function FinishDrawing({ stored }: { stored: Stored }) {
  const { zone, units } = useUnits();
  const { now } = useShop();
  const answer = useFinish(stored.id, stored.revision);
  if (!answer.data) return <Waiting error={answer.error} what="the finish" />;
  const { plan } = answer.data;
  if (!plan.gates.length && !plan.steps.length)
    return (
      <section>
        <Empty title="Nothing to finish yet">
          Once something is planned to be poured, its tests and the way to the surface stand here.
        </Empty>
      </section>
    );
  return (
    <section className="min-w-0 pt-1 max-sm:order-last" aria-label="Finishing">
      {plan.gates.length ? (
        <>
          <h2>When each test is likely to be passed</h2>
          <GateBands gates={plan.gates} now={new Date(now)} zone={zone} />
        </>
      ) : null}
      {plan.ladder.length ? <Ladder rungs={plan.ladder} why={plan.ladder_why} /> : null}
      {plan.oven ? <Oven oven={plan.oven} finish={plan} /> : null}
      {plan.steps.length ? (
        <h2 className="mt-5">In this order</h2>
      ) : (
        <p className="mt-5 text-slate">
          {plan.gates.some((one) => one.readiness.state === "never")
            ? "No step has a date: they wait for warmth."
            : "The run is over: what was done stands in the log."}
        </p>
      )}
      <ol className="rule mt-1">
        {plan.steps.map((step) => (
          <li
            key={step.code}
            className="py-2 grid grid-cols-[150px_1fr] gap-4 max-sm:grid-cols-1 max-sm:gap-0"
          >
            <span className="tabular-nums text-[13px]">
              {moment(step.at, zone)}
              {step.by ? <b className="block font-semibold">by {moment(step.by, zone)}</b> : null}
              <span className="block text-slate">{text(step.hands_s, "duration", units)} of hands</span>
            </span>
            <span>
              <b className="font-semibold">{step.title}.</b> {step.text}{" "}
              <span className="text-slate">{step.why}</span>
              {step.caution ? <span className="block text-rust">{step.caution}</span> : null}
            </span>
          </li>
        ))}
      </ol>
    </section>
  );
}

const ROW = 40;

/** Between when and when its test is likely to pass, as words. */
function likely(gate: Gate, zone: string): string {
  if (!gate.low_at || !gate.high_at) return "";
  return `, likely ${moment(gate.low_at, zone)} to ${moment(gate.high_at, zone)}`;
}

const NOW_TALL = 14; // "now" stands over the bands and touches none

function GateBands({ gates, now, zone }: { gates: Gate[]; now: Date; zone: string }) {
  const [box, width] = useWidth<HTMLDivElement>();
  const label = width < 460 ? 92 : 150;
  const times = gates
    .flatMap((one) => [one.poured_at, one.expected_at, one.low_at, one.high_at, one.next_at])
    .filter(Boolean)
    .map((one) => +new Date(one!));
  const x = scaleTime()
    .domain([Math.min(...times, +now), Math.max(...times, +now)])
    .range([label, width - 46]);
  const height = gates.length * ROW + 30 + NOW_TALL;
  const many = new Set(gates.map((one) => one.pour)).size > 1;
  const days = midnights(x.domain()[0]!, x.domain()[1]!, zone);
  const every = Math.max(1, Math.ceil(days.length / Math.max(2, (width - label) / 74)));
  return (
    <div ref={box} className="mt-1">
      <svg
        width={width}
        height={height}
        role="img"
        aria-label={gates.map((one) => `${one.title}: ${one.readiness.state}${likely(one, zone)}`).join(". ")}
        className="block text-[12px]"
      >
        {days
          .filter((_, index) => index % every === 0)
          .map((day) => (
            <g key={+day.at}>
              <path d={`M${x(day.at)} ${NOW_TALL}V${height - 20}`} className="stroke-line" />
              <text x={x(day.at)} y={height - 6} textAnchor="middle">
                {day.label}
              </text>
            </g>
          ))}
        {gates.map((gate, index) => {
          const y = index * ROW + 8 + NOW_TALL;
          const passed = gate.readiness.state === "passed";
          return (
            <g key={`${gate.code}${gate.pour}`}>
              <text x="0" y={y + 15} className="font-semibold">
                {gate.title}
                {many ? ` (${gate.pour})` : ""}
              </text>
              {passed ? (
                <text x={label} y={y + 15} className="fill-spruce">
                  tested and passed
                </text>
              ) : !gate.low_at || !gate.high_at || !gate.expected_at ? (
                <text x={label + 6} y={y + 15} className="fill-rust font-semibold">
                  never in this room
                </text>
              ) : (
                <>
                  <rect
                    x={x(new Date(gate.low_at))}
                    y={y}
                    width={Math.max(x(new Date(gate.high_at)) - x(new Date(gate.low_at)), 3)}
                    height="20"
                    className="fill-spruce-soft stroke-spruce"
                  />
                  <path
                    d={`M${x(new Date(gate.expected_at))} ${y - 3}v26`}
                    className="stroke-ink"
                    strokeDasharray="3 2"
                  />
                  {gate.next_at ? (
                    <>
                      <path
                        d={`M${x(new Date(gate.next_at))} ${y - 2}v24`}
                        className="stroke-rust"
                        strokeWidth="2.5"
                      />
                      <text
                        x={Math.max(x(new Date(gate.next_at)), x(new Date(gate.high_at))) + 6}
                        y={y + 15}
                        className="font-semibold"
                      >
                        {Math.round((gate.readiness.chance_then ?? 0) * 100)} %
                      </text>
                    </>
                  ) : null}
                </>
              )}
            </g>
          );
        })}
        <path d={`M${x(now)} ${NOW_TALL}V${height - 20}`} className="stroke-ink" strokeWidth="1.5" />
        <text x={x(now)} y="11" textAnchor="middle">
          now
        </text>
      </svg>
      <p className="text-[12px] text-slate">
        Band: eight in ten. Dashed: by the model alone. Red: when a test is worth making, and the chance that
        it passes then. Only the test itself opens a gate.
      </p>
    </div>
  );
}

function Ladder({ rungs, why }: { rungs: Schemas["Rung"][]; why: string }) {
  return (
    <section aria-label="Ladder of grits">
      <h2 className="mt-5">The ladder</h2>
      <ol className="flex flex-wrap items-end gap-x-1 gap-y-3 mt-2">
        {rungs.map((rung, index) => (
          <li key={rung.grade} className="flex items-end gap-1">
            {index ? (
              <span
                className={`text-[12px] pb-3 ${rung.is_long ? "text-rust font-semibold" : "text-slate"}`}
                aria-label={`grain ${Math.round((rung.ratio ?? 1) * 100)} percent of the last`}
              >
                ×{(rung.ratio ?? 1).toFixed(2)}
              </span>
            ) : null}
            <span className="grid justify-items-center border border-ink px-2 pt-1 pb-0.5 min-w-14">
              <GrainSketch um={rung.grain_um} />
              <b className="font-semibold text-[16px] tabular-nums">
                {rung.series === "P" ? "P" : ""}
                {rung.grade}
              </b>
              <span className="text-[12px] text-slate">
                {rung.grain_um < 20 ? rung.grain_um.toFixed(1) : Math.round(rung.grain_um)} µm
              </span>
            </span>
          </li>
        ))}
      </ol>
      <p className="text-[13px] mt-2">
        {why} Next grit when the last one's scratches are gone.{" "}
        {rungs[0]?.series === "P" ? "P grades by ISO 6344" : "US grades (CAMI)"}: the same number is another
        grain in the other series.
      </p>
    </section>
  );
}

/** Grains to scale among themselves. */
function GrainSketch({ um }: { um: number }) {
  const size = Math.max(1.2, Math.sqrt(um) * 0.42);
  const many = Math.min(14, Math.round(40 / size));
  return (
    <svg width="44" height="14" aria-hidden="true">
      {Array.from({ length: many }, (_, index) => {
        const x = ((index + 0.5) * 44) / many;
        return (
          <path
            key={index}
            d={`M${x - size} 13l${size} ${-Math.min(size * 1.7, 12)}l${size} ${Math.min(size * 1.7, 12)}z`}
            className="fill-slate"
          />
        );
      })}
    </svg>
  );
}

function Oven({ oven, finish }: { oven: Schemas["OvenProgram"]; finish: Schemas["FinishPlan"] }) {
  const { units } = useUnits();
  const [box, width] = useWidth<HTMLDivElement>();
  const curve = oven.curve;
  const x = scaleLinear()
    .domain([0, oven.total_s])
    .range([40, width - 12]);
  const y = scaleLinear()
    .domain([Math.min(...curve.map(([, c]) => c)) - 2, oven.top_c + 4])
    .range([120, 10]);
  return (
    <section aria-label="Oven program">
      <h2 className="mt-5">The oven</h2>
      <div ref={box}>
        <svg
          width={width}
          height="146"
          className="block text-[12px]"
          role="img"
          aria-label={`Oven up to ${text(oven.top_c, "temperature", units)} over ${text(oven.total_s, "duration", units)}`}
        >
          {y.ticks(4).map((tick) => (
            <g key={tick}>
              <path d={`M40 ${y(tick)}H${width - 12}`} className="stroke-line" />
              <text x="36" y={y(tick) + 4} textAnchor="end">
                {text(tick, "temperature", units).replace(/ .*/, "")}
              </text>
            </g>
          ))}
          {hourTicks(oven.total_s, 7).map((hours) => (
            <text
              key={hours}
              x={x(hours * 3600)}
              y="138"
              textAnchor={x(hours * 3600) > width - 24 ? "end" : "middle"}
            >
              {hours} h
            </text>
          ))}
          <path
            d={`M${curve.map(([at, celsius]) => `${x(at)} ${y(celsius)}`).join("L")}`}
            fill="none"
            className="stroke-rust"
            strokeWidth="2"
          />
        </svg>
      </div>
      <table className="plain mt-1 max-w-[560px]">
        <thead>
          <tr>
            <th>up to</th>
            <th>in</th>
            <th>then held</th>
          </tr>
        </thead>
        <tbody>
          {oven.steps.map((step) => (
            <tr key={step.to_c}>
              <td className="font-semibold">{text(step.to_c, "temperature", units)}</td>
              <td>{text(step.ramp_s, "duration", units)}</td>
              <td>{step.hold_s ? text(step.hold_s, "duration", units) : ""}</td>
            </tr>
          ))}
        </tbody>
      </table>
      <p className="text-[13px] mt-1">
        At its warmest <Fig figure={finish.oven_top} plan={finish} className="font-semibold" />, limited by{" "}
        {oven.limited_by}. It softens at about {text(oven.tg_before_c, "temperature", units)} before and{" "}
        {text(oven.tg_c, "temperature", units)} after (glass transition, by the cure model of its class); the
        oven keeps close to it so that nothing bends. Lying flat or in its mould, and slowly down again. Not
        an oven for food.
      </p>
    </section>
  );
}
