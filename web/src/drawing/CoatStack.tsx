/** A coat over a break line: films stacked, thick against each other as they are, the board below them cut
 *  short. */
import type { Schemas } from "../api/client";
import type { Piece, Plan } from "../api/queries";
import { layersOf } from "../domain/boundaries";
import { film, text, type Units } from "../domain/format";
import { stateAt } from "../domain/section";
import { useState } from "react";
import { Fig } from "../ui/Fig";
import { filmSteps, Grip, Knob } from "./Grip";
import { useUnits } from "../ui/session";
import { useWidth } from "./useWidth";

interface Props {
  plan: Plan;
  section: Schemas["Section"];
  coat: NonNullable<Piece["coats"]>[number] | undefined;
  tint: string;
  cursor: Date | null;
  /** the film of the top coat was moved to this thickness [m] */
  onFilm?: (film: number, done: boolean) => void;
}

const TALL = 120;
const BESIDE = 270; // the films' words and the things beside them
const LEAST_WIDE = 480;

/** Things of a known thickness [m] to see a film by. Card: ISO/IEC 7810 (0.76 mm); hair and coin: common practice, no
 *  source. */
const THINGS: [name: string, thick: number][] = [
  ["hair", 0.07e-3],
  ["card", 0.76e-3],
  ["1 mm coin", 1e-3],
];

export function CoatStack({ plan, section, coat, tint, cursor, onFilm }: Props) {
  const { units } = useUnits();
  const [ref, width] = useWidth<HTMLDivElement>();
  const isWide = width >= LEAST_WIDE;
  const board = Math.max(width - (isWide ? BESIDE : 150), 120);
  const layers = layersOf(plan, section.void_id);
  const there = coat?.existing_m?.value ?? 0;
  const all = section.fill_m + there;
  // While the film is held the drawing keeps its scale: the line stays under the finger.
  const [held, setHeld] = useState<{ all: number; at: number } | null>(null);
  const scale = TALL / (held?.all ?? all);
  const floor = 24 + TALL;
  const y = (level: number) => floor - (level + there) * scale;
  const figures = plan.coats?.find((one) => one.coat_id === section.void_id);
  // Only the top coat is dragged: the others lie fast below it.
  const last = figures?.lays?.at(-1);
  const top = last ? { film: last.film.value } : null;
  const grip = section.fill_m + (held && top ? held.at - top.film : 0);
  return (
    <div className="grid grid-cols-[minmax(0,1fr)_230px] gap-4 max-sm:grid-cols-1 min-h-[270px]">
      <div ref={ref} className="min-w-0">
        {width > 0 ? (
          <svg
            width={width}
            height={floor + (isWide ? 100 : 116)}
            className="block text-[12px]"
            role="img"
            aria-label={`${figures?.name ?? "Coat"}: ${layers.length} ${layers.length === 1 ? "film" : "films"} on the face, ${film(all)} in all`}
            fill="none"
          >
            <defs>
              <pattern id="coat-grain" width="9" height="7" patternUnits="userSpaceOnUse">
                <path d="M0 2C3 0 6 4 9 2M0 6H9" className="stroke-slate" strokeWidth="0.7" />
              </pattern>
              <pattern
                id="coat-hatch"
                width="7"
                height="7"
                patternUnits="userSpaceOnUse"
                patternTransform="rotate(45)"
              >
                <path d="M0 0V7" className="stroke-ink" strokeWidth="0.8" />
              </pattern>
            </defs>
            <rect x="6" y={floor} width={board} height="60" fill="var(--form)" />
            <rect
              x="6"
              y={floor}
              width={board}
              height="60"
              fill={coat?.wall === "wood" ? "url(#coat-grain)" : "url(#coat-hatch)"}
            />
            <path
              d={`M6 ${floor + 60}V${floor}H${6 + board}V${floor + 60}`}
              className="stroke-ink"
              strokeWidth="1.3"
            />
            <path
              d={`M0 ${floor + 60}h${board * 0.4}l6 -8l9 16l6 -8H${12 + board}`}
              className="stroke-ink"
              strokeWidth="1.3"
            />
            {there ? (
              <g>
                <rect
                  x="6"
                  y={y(0)}
                  width={board}
                  height={there * scale}
                  fill="var(--line)"
                  className="stroke-ink"
                />
                <text x={board + 14} y={y(-there / 2) + 4}>
                  {film(there)}, there
                </text>
              </g>
            ) : null}
            {layers.map((layer, index) => {
              const state = stateAt(plan, layer.number, cursor);
              return (
                <g key={index}>
                  <rect
                    x="6"
                    y={y(layer.to_m)}
                    width={board}
                    height={Math.max((layer.to_m - layer.from_m) * scale, 3)}
                    fill={tint}
                    fillOpacity={state === "not poured yet" ? 0.16 : 0.72 - 0.2 * Math.min(index, 2)}
                    className="stroke-ink"
                    strokeDasharray={state === "not poured yet" ? "3 4" : undefined}
                  >
                    <title>{state}</title>
                  </rect>
                  <text x={board + 24} y={y((layer.from_m + layer.to_m) / 2) + 4} fontWeight="600">
                    {film(layer.to_m - layer.from_m)}
                  </text>
                </g>
              );
            })}
            {onFilm && coat && top ? (
              <Grip
                label="Film of the top coat"
                at={held?.at ?? top.film}
                least={0.05e-3}
                most={Math.max(5e-3, top.film)}
                {...filmSteps(units)}
                perPixel={1 / scale}
                axis="up"
                says={film(held?.at ?? top.film)}
                readAs={1000}
                onMove={(next, done) => {
                  setHeld(done ? null : { all: held?.all ?? all, at: next });
                  onFilm(next, done);
                }}
              >
                {(isHeld) => (
                  <>
                    <path d={`M6 ${y(grip)}H${6 + board}`} className="stroke-spruce" strokeWidth="2" />
                    <Knob x={board * 0.2} y={y(grip)} />
                    {isHeld && held ? (
                      <text x={board * 0.2 + 24} y={y(grip) - 6} fontWeight="600">
                        {film(held.at)}
                      </text>
                    ) : null}
                  </>
                )}
              </Grip>
            ) : null}
            <Edge
              coat={coat}
              figures={figures}
              right={6 + board}
              floor={floor}
              top={y(section.fill_m)}
              scale={scale}
              isWide={isWide}
            />
            {isWide ? <Things x={board + 150} floor={floor} scale={scale} most={1.15 * all} /> : null}
            <text x="6" y={floor + 88} className="fill-slate!">
              thicknesses to scale, the board below is cut short
            </text>
          </svg>
        ) : null}
      </div>
      <dl className="grid grid-cols-2 gap-x-3 gap-y-2 content-start text-[13px] pt-2">
        {(figures?.count ?? 1) > 1 ? <p className="col-span-2 text-slate">each of {figures?.count}</p> : null}
        {layers.map((layer, index) => (
          <div key={index} className="col-span-2 grid grid-cols-[1fr_auto] border-b border-line pb-1.5">
            <dt>
              coat {index + 1}
              <br />
              <span className="text-slate">{systemName(plan, layer.number, layer.system_id)}</span>
            </dt>
            <dd className="text-right">
              <Fig figure={layer.mass} plan={plan} className="text-[17px] font-semibold" />
              <br />
              <span className="text-slate">{text(layer.volume.value, "volume", units)}</span>
            </dd>
          </div>
        ))}
        {layers.length === 0 ? (
          <p className="col-span-2 text-slate">Choose a resin system to see what each film weighs.</p>
        ) : null}
      </dl>
    </div>
  );
}

function systemName(plan: Plan, pour: number, systemId: string): string {
  return (
    plan.pours.find((one) => one.number === pour)?.batches.find((batch) => batch.system_id === systemId)
      ?.system_name ?? ""
  );
}

/** Bars of known things, standing on the board's level. */
function Things({ x, floor, scale, most }: { x: number; floor: number; scale: number; most: number }) {
  return (
    <g aria-hidden>
      {THINGS.filter(([, thick]) => thick <= most).map(([name, thick], index) => (
        <g key={name}>
          <rect
            x={x + 42 * index}
            y={floor - thick * scale}
            width="26"
            height={Math.max(thick * scale, 1)}
            fill="var(--form)"
            className="stroke-slate"
          />
          <text x={x + 42 * index + 13} y={floor + 15} textAnchor="middle" className="fill-slate!">
            {name.replace("1 mm ", "")}
          </text>
          {name.startsWith("1 mm") ? (
            <text x={x + 42 * index + 13} y={floor + 30} textAnchor="middle" className="fill-slate!">
              1 mm
            </text>
          ) : null}
        </g>
      ))}
    </g>
  );
}

/** How far it creeps as it stands, or how fast where nobody said how it stands. */
function creepWords(figures: NonNullable<EdgeProps["figures"]>, units: Units): string {
  if (figures.creeps) return `creeps ${text(figures.creeps.value, "length", units)} until it gels`;
  return figures.creep ? `creeps ${text(figures.creep.value, "speed", units)} at 1°` : "";
}

interface EdgeProps {
  coat: Props["coat"];
  figures: NonNullable<Plan["coats"]>[number] | undefined;
  right: number;
  floor: number;
  top: number;
  scale: number;
  isWide: boolean;
}

/** What the film does at the edge: it runs over and leaves what an upright face keeps, or stands against tape; and how
 *  far it creeps as the piece stands. */
function Edge({ coat, figures, right, floor, top, scale, isWide }: EdgeProps) {
  const { units } = useUnits();
  const taped = coat?.edges === "none";
  const keeps = figures?.edge_film ? Math.max(figures.edge_film.value * scale, 1.5) : 0;
  return (
    <g>
      {taped ? (
        <rect
          x={right}
          y={top - 9}
          width="5"
          height={floor - top + 34}
          fill="var(--tape)"
          className="stroke-ink"
        />
      ) : keeps ? (
        <path
          d={`M${right} ${top + 2}Q${right + keeps} ${top + 4} ${right + keeps} ${floor}V${floor + 54}q0 5 ${-keeps / 2} 5t${-keeps / 2} -5Z`}
          fill="var(--liquid)"
          fillOpacity="0.7"
          className="stroke-ink"
        />
      ) : null}
      {taped ? (
        <text x={right + 12} y={floor + 20}>
          tape at the edge
        </text>
      ) : figures?.edge_film ? (
        <text x={right + keeps + 8} y={floor + 46}>
          the edge keeps {film(figures.edge_film.value)}
        </text>
      ) : null}
      {figures?.creep && !isWide ? (
        <text x="6" y={floor + 108}>
          {creepWords(figures, units)}
        </text>
      ) : figures?.creep ? (
        <g>
          <path d={`M${right - 96} ${top - 8}H${right - 14}l-6 -3v6l6 -3`} className="stroke-ink" />
          <text x={right - 100} y={top - 4} textAnchor="end">
            {creepWords(figures, units)}
          </text>
        </g>
      ) : null}
    </g>
  );
}
