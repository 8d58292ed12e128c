/** The photo with its reference and outline on it: handles that are dragged or moved by arrow keys, and a
 *  lens at the held one. */
import { useRef, useState, type KeyboardEvent, type PointerEvent } from "react";
import { useWidth } from "../../../drawing/useWidth";

export type Pixel = [number, number];

interface Props {
  src: string;
  width: number;
  height: number;
  kind: "rectangle" | "lengths";
  corners: Pixel[];
  onCorners: (corners: Pixel[]) => void;
  outline: Pixel[];
  /** done: the hand let go. */
  onOutline: (outline: Pixel[], done: boolean) => void;
  onTap: (place: Pixel) => void;
}

type Held = { of: "corner" | "point"; index: number } | null;
const LENS = 60;

export function PhotoBoard({
  src,
  width,
  height,
  kind,
  corners,
  onCorners,
  outline,
  onOutline,
  onTap,
}: Props) {
  const svg = useRef<SVGSVGElement>(null);
  const [held, setHeld] = useState<Held>(null);
  const [holder, shown] = useWidth<HTMLDivElement>();
  const perPixel = width / Math.max(shown, 1);
  const dot = Math.max(width / 90, 7 * perPixel);
  const place = (event: { clientX: number; clientY: number }): Pixel => {
    const matrix = svg.current!.getScreenCTM()!.inverse();
    const at = new DOMPoint(event.clientX, event.clientY).matrixTransform(matrix);
    return [Math.min(Math.max(at.x, 0), width), Math.min(Math.max(at.y, 0), height)];
  };
  const put = (which: NonNullable<Held>, to: Pixel, done: boolean) => {
    if (which.of === "corner") onCorners(corners.map((one, index) => (index === which.index ? to : one)));
    else
      onOutline(
        outline.map((one, index) => (index === which.index ? to : one)),
        done,
      );
  };
  const handle = (which: NonNullable<Held>, at: Pixel) => ({
    tabIndex: 0,
    role: "button",
    className: "cursor-move touch-none",
    onPointerDown: (event: PointerEvent<SVGGElement>) => {
      event.stopPropagation();
      svg.current!.setPointerCapture(event.pointerId);
      setHeld(which);
    },
    onFocus: () => setHeld(which),
    onKeyDown: (event: KeyboardEvent) => {
      const step = { ArrowLeft: [-1, 0], ArrowRight: [1, 0], ArrowUp: [0, -1], ArrowDown: [0, 1] }[event.key];
      if (step) {
        event.preventDefault();
        const far = event.shiftKey ? 10 : 1;
        put(which, [at[0] + step[0]! * far, at[1] + step[1]! * far], true);
      } else if (event.key === "Delete" && which.of === "point" && outline.length > 3) {
        onOutline(
          outline.filter((_, index) => index !== which.index),
          true,
        );
      }
    },
  });
  const focus = held ? (held.of === "corner" ? corners[held.index] : outline[held.index]) : null;
  const wires: [number, number][] =
    kind === "rectangle"
      ? [
          [0, 1],
          [1, 2],
          [2, 3],
          [3, 0],
        ]
      : [
          [0, 1],
          [2, 3],
        ];
  return (
    <div ref={holder} className="relative self-start min-w-0">
      <svg
        ref={svg}
        viewBox={`0 0 ${width} ${height}`}
        className="w-full max-h-[66vh] block touch-none"
        role="group"
        aria-label="The photo"
        onPointerMove={(event) => held && event.buttons && put(held, place(event), false)}
        onPointerUp={(event) => {
          if (held?.of === "point") put(held, place(event), true);
          setHeld(null);
        }}
      >
        {/* The places put are moved with the arrow keys, below. */}
        {/* oxlint-disable-next-line jsx-a11y/click-events-have-key-events, jsx-a11y/no-static-element-interactions */}
        <image href={src} width={width} height={height} onClick={(event) => onTap(place(event))} />
        {wires.map(([from, to]) =>
          corners[from] && corners[to] ? (
            <Line key={`${from}${to}`} from={corners[from]} to={corners[to]} wide={dot / 4} />
          ) : null,
        )}
        {outline.length ? (
          <g>
            <path
              d={`M${outline.map((one) => one.join(" ")).join("L")}Z`}
              fill="#1e5a50"
              fillOpacity="0.16"
              stroke="#fff"
              strokeWidth={dot / 2.5}
              pointerEvents="none"
            />
            {outline.map((one, index) => {
              const next = outline[(index + 1) % outline.length]!;
              return (
                <path
                  key={index}
                  d={`M${one.join(" ")}L${next.join(" ")}`}
                  stroke="#1e5a50"
                  strokeWidth={dot / 3.2}
                  className="cursor-copy"
                  onClick={(event) => {
                    const at = place(event);
                    onOutline([...outline.slice(0, index + 1), at, ...outline.slice(index + 1)], true);
                  }}
                />
              );
            })}
            {outline.map((one, index) => (
              <g
                key={index}
                aria-label={`Point ${index + 1} of the outline; arrow keys move it, Delete takes it out`}
                {...handle({ of: "point", index }, one)}
                onDoubleClick={() =>
                  outline.length > 3 &&
                  onOutline(
                    outline.filter((_, i) => i !== index),
                    true,
                  )
                }
              >
                <circle cx={one[0]} cy={one[1]} r={Math.max(dot, 12 * perPixel)} fill="transparent" />
                <circle
                  cx={one[0]}
                  cy={one[1]}
                  r={dot / 2.4}
                  fill="#fff"
                  stroke="#1e5a50"
                  strokeWidth={dot / 6}
                />
              </g>
            ))}
          </g>
        ) : null}
        {corners.map((one, index) => (
          <g
            key={index}
            aria-label={`${kind === "rectangle" ? "Corner" : "End"} ${index + 1}; arrow keys move it`}
            {...handle({ of: "corner", index }, one)}
          >
            <circle
              cx={one[0]}
              cy={one[1]}
              r={dot * 1.6}
              fill="#fff"
              fillOpacity="0.25"
              stroke="#a63d2f"
              strokeWidth={dot / 5}
            />
            <path
              d={`M${one[0] - dot} ${one[1]}H${one[0] + dot}M${one[0]} ${one[1] - dot}V${one[1] + dot}`}
              stroke="#a63d2f"
              strokeWidth={dot / 7}
            />
            <text
              x={one[0] + dot * 1.8}
              y={one[1] - dot * 1.2}
              fontSize={dot * 2.4}
              fontWeight="700"
              style={{ fill: "#a63d2f", paintOrder: "stroke", stroke: "#fff", strokeWidth: dot / 3 }}
            >
              {index + 1}
            </text>
          </g>
        ))}
      </svg>
      {focus ? (
        <svg
          viewBox={`${focus[0] - LENS} ${focus[1] - LENS} ${2 * LENS} ${2 * LENS}`}
          width="150"
          height="150"
          className="absolute top-1 border-2 border-ink bg-paper pointer-events-none"
          style={focus[0] > width / 2 ? { left: 4 } : { right: 4 }}
          aria-hidden="true"
        >
          <image href={src} width={width} height={height} />
          <path
            d={`M${focus[0] - LENS} ${focus[1]}H${focus[0] + LENS}M${focus[0]} ${focus[1] - LENS}V${focus[1] + LENS}`}
            stroke="#a63d2f"
            strokeWidth="0.8"
          />
        </svg>
      ) : null}
    </div>
  );
}

function Line({ from, to, wide }: { from: Pixel; to: Pixel; wide: number }) {
  return (
    <path
      d={`M${from.join(" ")}L${to.join(" ")}`}
      stroke="#a63d2f"
      strokeWidth={wide}
      strokeDasharray={`${wide * 3} ${wide * 2}`}
      pointerEvents="none"
    />
  );
}
