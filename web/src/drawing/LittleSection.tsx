/** The section in little: the form, what is poured by the time cursor, nothing to read. */
import type { Schemas } from "../api/client";
import type { Plan } from "../api/queries";
import { layersOf } from "../domain/boundaries";
import { nameOf, ringsPath, slice, stateAt } from "../domain/section";
import { CutWall, FormWall, Patterns } from "./Section";
import { useWidth } from "./useWidth";

interface Props {
  plan: Plan;
  section: Schemas["Section"];
  tint: string;
  cursor: Date | null;
  tall: number;
}

const EDGE = 15; // the wall and the line round it
const FILM_TALL = 44;

export function LittleSection({ plan, section, tint, cursor, tall }: Props) {
  const [ref, width] = useWidth<HTMLDivElement>();
  const layers = layersOf(plan, section.void_id);
  const isCoat = section.cut === "coat";
  const room = { wide: Math.min(width, 420) - 2 * EDGE, tall: tall - 2 * EDGE };
  const scale = Math.min(room.wide / (2 * section.half_width_m), room.tall / section.fill_m);
  const middle = Math.min(width, 420) / 2;
  const y = (level: number) => tall - EDGE - level * scale;
  const half = section.half_width_m * scale;
  const rings = isCoat ? "" : ringsPath(section, middle, scale, y);
  const look = (index: number) => {
    const waits = stateAt(plan, layers[index]!.number, cursor) === "not poured yet";
    return {
      fill: tint,
      fillOpacity: waits ? 0.16 : 0.78 - 0.16 * Math.min(index, 3),
      strokeDasharray: waits ? "3 4" : undefined,
      strokeWidth: 1,
      className: "stroke-ink",
    };
  };
  return (
    <div ref={ref} className="w-full overflow-hidden">
      {width > 0 ? (
        <svg
          width={Math.min(width, 420)}
          height={tall}
          className="block"
          role="img"
          aria-label={`${nameOf(plan, section.void_id)} in little, ${layers.length} ${isCoat ? "films" : "layers"}`}
          fill="none"
        >
          <Patterns />
          {isCoat ? (
            <g>
              <rect
                x="2"
                y={tall - 36}
                width={2 * middle - 4}
                height="34"
                fill="var(--form)"
                className="stroke-ink"
              />
              {layers.map((layer, index) => (
                <rect
                  key={index}
                  x="2"
                  width={2 * middle - 4}
                  y={tall - 36 - (layer.to_m / section.fill_m) * FILM_TALL}
                  height={Math.max(((layer.to_m - layer.from_m) / section.fill_m) * FILM_TALL, 2)}
                  {...look(index)}
                />
              ))}
            </g>
          ) : (
            <g>
              {rings ? (
                <clipPath id="cut-little">
                  <path d={rings} clipRule="evenodd" />
                </clipPath>
              ) : null}
              {rings ? (
                <CutWall section={section} rings={rings} half={half} middle={middle} y={y} />
              ) : (
                <FormWall section={section} half={half} middle={middle} y={y} />
              )}
              {layers.map((layer, index) => (
                <path
                  key={index}
                  d={
                    rings
                      ? `M${middle - half} ${y(layer.from_m)}H${middle + half}V${y(layer.to_m)}H${middle - half}Z`
                      : slice(section, layer.from_m, layer.to_m, middle, scale, y)
                  }
                  clipPath={rings ? "url(#cut-little)" : undefined}
                  {...look(index)}
                />
              ))}
            </g>
          )}
        </svg>
      ) : null}
    </div>
  );
}
