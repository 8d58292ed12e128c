/** What lies on the bench, drawn large, with its measures typed on the dimension lines. */
import { useId } from "react";
import type { FieldProblem } from "../../api/client";
import { placesOf, type Bench, type FirstAnswer } from "./benches";

interface Props {
  bench: Bench;
  asks: FirstAnswer["asks"];
  readings: Record<string, string>;
  problem: FieldProblem | null;
  unit: string;
  says: [string, (string | undefined)?];
  onType: (key: string, typed: string) => void;
}

export function BenchDrawing({ bench, asks, readings, problem, unit, says, onType }: Props) {
  const places = placesOf(bench);
  const wrong = problem?.pointer.slice(1);
  return (
    <div className="relative mt-2 max-w-[860px] sm:aspect-[860/330]">
      <svg
        viewBox="0 0 860 330"
        className="w-full sm:absolute sm:inset-0 text-[14px]"
        role="img"
        aria-label={`${bench}, drawn with its measures`}
        fill="none"
        strokeWidth="1.5"
      >
        <Drawing bench={bench} wrong={wrong} says={says} />
      </svg>
      <div className="max-sm:grid max-sm:grid-cols-2 max-sm:gap-3 max-sm:mt-2">
        {asks.map((ask) => {
          const [x, y] = places[ask.key] ?? [0.5, 0.5];
          return (
            <div
              key={ask.key}
              data-asks={ask.key}
              className="drawn-field sm:absolute sm:w-[128px] sm:-translate-x-1/2 sm:-translate-y-1/2"
              style={{ "--x": `${100 * x}%`, "--y": `${100 * y}%` } as React.CSSProperties}
            >
              <DrawnField
                label={ask.label}
                help={ask.help ?? ""}
                typed={readings[ask.key] ?? ""}
                taken={ask.taken ?? ""}
                unit={ask.kind === "count" ? "" : unit}
                problem={wrong === ask.key ? problem : null}
                onType={(typed) => onType(ask.key, typed)}
              />
            </div>
          );
        })}
      </div>
    </div>
  );
}

interface FieldProps {
  label: string;
  help: string;
  typed: string;
  /** What is taken while nothing is typed. */
  taken: string;
  unit: string;
  problem: FieldProblem | null;
  onType: (typed: string) => void;
}

export function DrawnField({ label, help, typed, taken, unit, problem, onType }: FieldProps) {
  const id = useId();
  const bare = /^[\d.,\s/½¼¾]*$/.test(typed);
  return (
    <div>
      <label htmlFor={id} className="block text-[12px] leading-tight mb-1 text-slate" title={help}>
        {label}
      </label>
      <span className="relative block">
        <input
          id={id}
          className="box tabular-nums font-semibold max-sm:min-h-12"
          value={typed}
          placeholder={taken}
          autoComplete="off"
          inputMode="text"
          enterKeyHint="next"
          aria-invalid={problem ? true : undefined}
          aria-describedby={problem ? `${id}-says` : undefined}
          onChange={(event) => onType(event.target.value)}
        />
        {unit && bare && (typed || !taken) ? (
          <span aria-hidden className="absolute right-2 top-1/2 -translate-y-1/2 text-[13px] text-slate">
            {unit}
          </span>
        ) : null}
      </span>
      {problem ? (
        <p id={`${id}-says`} role="alert" className="text-[12.5px] text-rust font-medium bg-paper">
          {problem.message} {problem.way_out}
          {(problem.choices ?? []).map((choice) => (
            <button key={choice} className="quiet ml-2" onClick={() => onType(choice)}>
              {choice}
            </button>
          ))}
        </p>
      ) : null}
    </div>
  );
}

const FILL = { fill: "var(--liquid)", fillOpacity: 0.55 };

function Drawing({ bench, wrong, says }: { bench: Bench; wrong: string | undefined; says: Props["says"] }) {
  const line = (key: string) => (wrong === key ? "stroke-rust" : "stroke-slate");
  const words = (x: number, y: number) => (
    <text x={x} y={y} textAnchor="middle" stroke="none" className="fill-ink">
      <tspan className="font-semibold">{says[0]}</tspan>
      {says[1] ? (
        <tspan x={x} dy="20" className="fill-slate">
          {says[1]}
        </tspan>
      ) : null}
    </text>
  );
  if (bench === "picture or panel" || bench === "table or board")
    return (
      <g className="stroke-ink">
        <rect x="150" y="44" width="430" height="216" {...FILL} />
        {words(365, 150)}
        <path d="M150 280H580M150 274v12M580 274v12" className={line("length")} />
        <path d="M134 44V260M128 44h12M128 260h12" className={line("width")} />
        <text x="680" y="84" stroke="none" className="fill-ink font-semibold">
          the edge
        </text>
        <path d="M670 118V102Q672 98 678 98H800V112H680V150H674V118Z" {...FILL} />
        <path d="M680 112H800V150H680Z" className="stroke-ink" />
        <path d="M826 112V150M820 112h12M820 150h12" className={line("thickness")} />
      </g>
    );
  if (bench === "cup on a rotator")
    return (
      <g className="stroke-ink">
        <path d="M220 50H470L430 276H260Z" {...FILL} />
        <path d="M220 50H470L466 74H224Z" fill="var(--paper)" />
        {words(345, 165)}
        <path d="M60 165H236M454 165H640" strokeDasharray="8 6" className="stroke-slate" />
        <path d="M220 42H470M220 36v12M470 36v12" className={line("top")} />
        <path d="M260 286H430M260 280v12M430 280v12" className={line("bottom")} />
        <path d="M190 50V276M184 50h12M184 276h12" className={line("height")} />
        <path d="M490 50V74M484 50h12M484 74h12M496 62h40" className={line("band")} />
      </g>
    );
  if (bench === "mould")
    return (
      <g className="stroke-ink">
        <path d="M120 60H200V240H490V60H570V290H120Z" fill="var(--wood, none)" fillOpacity="0.2" />
        <path d="M200 84H490V240H200Z" {...FILL} />
        {words(345, 165)}
        <path d="M200 50H490M200 44v12M490 44v12" className={line("diameter")} />
        <path d="M590 60V240M584 60h12M584 240h12" className={line("depth")} />
      </g>
    );
  if (bench === "block or form")
    return (
      <g className="stroke-ink">
        <path d="M150 120H500V266H150ZM150 120L250 60H600L500 120ZM500 120L600 60V206L500 266Z" {...FILL} />
        {words(325, 190)}
        <path d="M150 282H500M150 276v12M500 276v12" className={line("length")} />
        <path d="M512 128L612 68" className={line("width")} />
        <path d="M134 120V266M128 120h12M128 266h12" className={line("depth")} />
      </g>
    );
  if (bench === "river or crack")
    return (
      <g className="stroke-ink">
        <path d="M60 44H680V270H60Z" className="stroke-line" />
        <path
          d="M60 110C180 70 250 130 370 112S560 80 680 104V206C560 184 480 230 370 214S180 236 60 204Z"
          {...FILL}
        />
        {words(370, 160)}
        <path d="M60 34H680M60 28v12M680 28v12" className={line("length")} />
        <path d="M120 98V216M114 98h12M114 216h12" className={line("width-1")} />
        <path d="M366 112V214M360 112h12M360 214h12" className={line("width-2")} />
        <path d="M610 92V196M604 92h12M604 196h12" className={line("width-3")} />
        <path d="M706 120V196M700 120h12M700 196h12" className={line("depth")} />
      </g>
    );
  return (
    <g className="stroke-ink">
      <path d="M110 30H640V276H110Z" className="stroke-line" />
      <rect x="170" y="70" width="390" height="160" {...FILL} />
      {words(365, 150)}
      <path d="M170 288H560M170 282v12M560 282v12" className={line("length")} />
      <path d="M150 70V230M144 70h12M144 230h12" className={line("width")} />
      <path d="M660 110V190M654 110h12M654 190h12" className={line("depth")} />
    </g>
  );
}
