/** The batch in its cup: how warm and how thick, when to have poured it, when to part colours, how long
 *  glitter should wait. */
import { scaleLinear } from "d3-scale";
import type { Schemas } from "../../api/client";
import type { Plan } from "../../api/queries";
import { degrees, text } from "../../domain/format";
import { ticks } from "../../domain/heat";
import { Fig } from "../../ui/Fig";
import { useUnits } from "../../ui/session";

type Pot = Schemas["PotClock"];
const WIDE = 288;
const TALL = 118;

export function PotClock({ pot, plan }: { pot: Pot; plan: Plan }) {
  const { units } = useUnits();
  const curve = pot.curve;
  const end = curve.at(-1)![0];
  const x = scaleLinear().domain([0, end]).range([30, WIDE]);
  const y = scaleLinear()
    .domain([Math.min(...curve.map((one) => one[1])) - 1, Math.max(...curve.map((one) => one[1]), 30) + 2])
    .range([TALL - 20, 16]);
  const by = pot.pour_by.value;
  const at = (seconds: number) => text(seconds, "duration", units);
  return (
    <section aria-label="Pot clock" className="mt-2">
      <p className="text-[13px]">
        <b className="font-semibold">
          Pour by <Fig figure={pot.pour_by} plan={plan} unitClass="" />
        </b>{" "}
        from the first stir: {pot.why}.
        {pot.gel_s
          ? ` If left in the cup, it gels in ${at(pot.gel_s)} and reaches ${degrees(pot.hottest_c, units)}: spread out what is left over.`
          : ""}
      </p>
      <svg
        width={WIDE + 6}
        height={TALL}
        className="block max-w-full text-[12px]"
        role="img"
        aria-label={`In the cup ${curve
          .filter((_, index) => index % 8 === 0)
          .map((one) => `after ${at(one[0])} ${degrees(one[1], units)}`)
          .join(", ")}`}
      >
        <rect
          x={x(0)}
          y="14"
          width={Math.max(x(Math.min(by, end)) - x(0), 0)}
          height={TALL - 34}
          fill="var(--spruce-soft)"
          stroke="var(--spruce)"
        />
        {ticks(y.domain()[0]!, y.domain()[1]!, 3).map((tick) => (
          <g key={tick}>
            <path d={`M30 ${y(tick)}H${WIDE}`} className="stroke-line" />
            <text x="26" y={y(tick) + 4} textAnchor="end" className="fill-slate!">
              {units === "us" ? Math.round(tick * 1.8 + 32) : tick}°
            </text>
          </g>
        ))}
        <path
          d={`M${curve.map((one) => `${x(one[0]).toFixed(1)} ${y(one[1]).toFixed(1)}`).join("L")}`}
          fill="none"
          className="stroke-rust"
          strokeWidth="2"
        />
        {(
          [
            [pot.split_s, "split", "end"],
            [pot.pour_from_s, "pour from", "start"],
            [pot.pour_to_s, "to", "start"],
          ] as const
        ).map(([seconds, word, side]) =>
          typeof seconds === "number" && seconds < end ? (
            <g key={String(word)}>
              <path d={`M${x(seconds)} 14V${TALL - 20}`} className="stroke-ink" strokeDasharray="3 2" />
              <text
                x={x(seconds) + (side === "end" ? -3 : 3)}
                y={word === "to" ? 40 : 26}
                textAnchor={side}
                fontWeight="600"
              >
                {word}
              </text>
            </g>
          ) : null,
        )}
        <text x={x(Math.min(by, end)) - 4} y="11" textAnchor="end" className="fill-spruce!" fontWeight="600">
          poured by here
        </text>
        {[0, 0.5, 1].map((share) => (
          <text
            key={share}
            x={x(end * share)}
            y={TALL - 5}
            textAnchor={share === 1 ? "end" : share ? "middle" : "start"}
            className="fill-slate!"
          >
            {at(end * share)}
          </text>
        ))}
      </svg>
      <ul className="text-[13px] grid gap-0.5">
        {pot.thickens_s ? (
          <li>
            Thickens from {at(pot.thickens_s)} on; before that it gets thinner as it warms, so thickness alone
            does not tell its age.
          </li>
        ) : null}
        {pot.split_s ? (
          <li>
            Part the colours at {at(pot.split_s)}
            {pot.pour_from_s ? `, pour them from ${at(pot.pour_from_s)}` : ""}
            {pot.pour_to_s ? ` to ${at(pot.pour_to_s)} to keep them apart` : ""}.
          </li>
        ) : null}
        {pot.settles ? (
          <li>
            1 mm glitter sinks to the bottom of this layer, even after half an hour's rest (it would fall{" "}
            <Fig figure={pot.drift} plan={plan} unitClass="" />
            ): lay it on a gelled layer.
          </li>
        ) : (
          <li>
            1 mm glitter sinks <Fig figure={pot.drift} plan={plan} unitClass="" /> if added at once;{" "}
            {pot.left
              .map(
                ([rest, share], index) =>
                  `${index ? ", " : ""}${Math.round(100 * share)} % of that after ${at(rest)}`,
              )
              .join("")}
            .
          </li>
        )}
        {pot.smallest_bubble ? (
          <li>
            Bubbles over{" "}
            <Fig
              figure={pot.smallest_bubble}
              plan={plan}
              unitClass=""
              as={{ number: (pot.smallest_bubble.value * 1000).toFixed(2), unit: "mm" }}
            />{" "}
            get out of the layer before it gels.
          </li>
        ) : null}
      </ul>
    </section>
  );
}
