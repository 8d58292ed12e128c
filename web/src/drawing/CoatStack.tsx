/** A coat over a break line: films stacked, thick against each other as they are, the board below them cut short. */
import type { Schemas } from "../api/client";
import type { Piece, Plan } from "../api/queries";
import { layersOf } from "../domain/boundaries";
import { film, text } from "../domain/format";
import { stateAt } from "../domain/section";
import { Fig } from "../ui/Fig";
import { useUnits } from "../ui/session";

interface Props {
  plan: Plan;
  section: Schemas["Section"];
  coat: NonNullable<Piece["coats"]>[number] | undefined;
  tint: string;
  cursor: Date | null;
}

const TALL = 120;

export function CoatStack({ plan, section, coat, tint, cursor }: Props) {
  const { units } = useUnits();
  const layers = layersOf(plan, section.void_id);
  const there = coat?.existing_m?.value ?? 0;
  const all = section.fill_m + there;
  const scale = TALL / all;
  const floor = 24 + TALL;
  const y = (level: number) => floor - (level + there) * scale;
  const figures = plan.coats?.find((one) => one.coat_id === section.void_id);
  return (
    <div className="grid grid-cols-[minmax(0,1fr)_230px] gap-4 max-sm:grid-cols-1 min-h-[270px]">
      <svg viewBox="0 0 440 260" className="w-full max-h-[270px] text-[12px]" role="img" aria-label={`${figures?.name ?? "Coat"}: ${layers.length} ${layers.length === 1 ? "film" : "films"} on the face, ${film(all)} in all`} fill="none">
        <defs>
          <pattern id="coat-grain" width="9" height="7" patternUnits="userSpaceOnUse"><path d="M0 2C3 0 6 4 9 2M0 6H9" className="stroke-slate" strokeWidth="0.7" /></pattern>
          <pattern id="coat-hatch" width="7" height="7" patternUnits="userSpaceOnUse" patternTransform="rotate(45)"><path d="M0 0V7" className="stroke-ink" strokeWidth="0.8" /></pattern>
        </defs>
        <path d={`M10 ${floor}H290V${floor + 62}l-14 8l-266 0Z`} fill="var(--form)" />
        <path d={`M10 ${floor}H290V${floor + 62}M10 ${floor}V${floor + 62}`} fill={coat?.wall === "wood" ? "url(#coat-grain)" : "url(#coat-hatch)"} className="stroke-ink" strokeWidth="1.3" />
        <path d={`M4 ${floor + 62}h60l8 -9l10 18l8 -9h206`} className="stroke-ink" strokeWidth="1.3" />
        <rect x="10" y={floor} width="280" height="62" fill={coat?.wall === "wood" ? "url(#coat-grain)" : "url(#coat-hatch)"} />
        {there ? <g><rect x="10" y={y(0)} width="280" height={there * scale} fill="var(--line)" className="stroke-ink" /><text x="300" y={y(-there / 2) + 4}>{film(there)}, there already</text></g> : null}
        {layers.map((layer, index) => {
          const state = stateAt(plan, layer.number, cursor);
          return (
            <g key={index}>
              <rect x="10" y={y(layer.to_m)} width="280" height={Math.max((layer.to_m - layer.from_m) * scale, 3)} fill={tint} fillOpacity={state === "not poured yet" ? 0.16 : 0.72 - 0.2 * Math.min(index, 2)} className="stroke-ink" strokeDasharray={state === "not poured yet" ? "3 4" : undefined}><title>{state}</title></rect>
              <text x="300" y={y((layer.from_m + layer.to_m) / 2) + 4} fontWeight="600">{film(layer.to_m - layer.from_m)}</text>
            </g>
          );
        })}
        <text x="10" y={floor + 88} className="fill-slate!">films to scale against each other; the board below is cut short</text>
      </svg>
      <dl className="grid grid-cols-2 gap-x-3 gap-y-2 content-start text-[13px] pt-2">
        {layers.map((layer, index) => (
          <div key={index} className="col-span-2 grid grid-cols-[1fr_auto] border-b border-line pb-1.5">
            <dt>coat {index + 1}<br /><span className="text-slate">{systemName(plan, layer.number, layer.system_id)}</span></dt>
            <dd className="text-right"><Fig figure={layer.mass} plan={plan} className="text-[17px] font-semibold" /><br /><span className="text-slate">{text(layer.volume.value, "volume", units)}</span></dd>
          </div>
        ))}
        {layers.length === 0 ? <p className="col-span-2 text-slate">Choose a resin system to see what each film weighs.</p> : null}
      </dl>
    </div>
  );
}

function systemName(plan: Plan, pour: number, systemId: string): string {
  return plan.pours.find((one) => one.number === pour)?.batches.find((batch) => batch.system_id === systemId)?.system_name ?? "";
}
