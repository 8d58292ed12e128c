/** Something on a drawing that is moved: by a finger, by arrow keys (Shift for ten times), Home and End. All lines that
 *  can be moved work alike; what is typed stands beside the drawing. */
import { useRef, useState, type KeyboardEvent, type PointerEvent, type ReactNode } from "react";

interface Props {
  label: string;
  at: number;
  least: number;
  most: number;
  /** what a pointer comes to rest on, and what an arrow key moves by */
  snap: number;
  step: number;
  /** of the value, for a pixel up or to the right */
  perPixel: number;
  axis: "up" | "right";
  /** as it is read aloud, and in which unit the reader has it */
  says: string;
  readAs?: number;
  onMove: (at: number, done: boolean) => void;
  children: (isHeld: boolean) => ReactNode;
}

export function Grip(props: Props) {
  const { label, at, least, most, snap, step, perPixel, axis, says, readAs = 1, onMove, children } = props;
  const grip = useRef<{ pointer: number; start: number } | null>(null);
  const [isHeld, setHeld] = useState(false);
  const within = (value: number) => Math.min(Math.max(value, least), most);
  const along = (event: PointerEvent) => (axis === "up" ? -event.clientY : event.clientX);
  const down = (event: PointerEvent) => {
    event.currentTarget.setPointerCapture(event.pointerId);
    grip.current = { pointer: along(event), start: at };
    setHeld(true);
  };
  const move = (event: PointerEvent, done: boolean) => {
    if (!grip.current) return;
    const free = grip.current.start + (along(event) - grip.current.pointer) * perPixel;
    if (done) {
      grip.current = null;
      setHeld(false);
    }
    onMove(within(Math.round(free / snap) * snap), done);
  };
  const key = (event: KeyboardEvent) => {
    const by = step * (event.shiftKey ? 10 : 1);
    const next = {
      ArrowUp: at + by,
      ArrowRight: at + by,
      ArrowDown: at - by,
      ArrowLeft: at - by,
      Home: least,
      End: most,
    }[event.key];
    if (next === undefined) return;
    event.preventDefault();
    onMove(within(next), true);
  };
  return (
    <g
      role="slider"
      tabIndex={0}
      aria-label={label}
      aria-orientation={axis === "up" ? "vertical" : "horizontal"}
      aria-valuemin={least * readAs}
      aria-valuemax={most * readAs}
      aria-valuenow={Number((at * readAs).toFixed(1))}
      aria-valuetext={says}
      className={`touch-none ${axis === "up" ? "cursor-ns-resize" : "cursor-ew-resize"}`}
      onPointerDown={down}
      onPointerMove={(event) => move(event, false)}
      onPointerUp={(event) => move(event, true)}
      onPointerCancel={() => {
        grip.current = null;
        setHeld(false);
      }}
      onKeyDown={key}
    >
      {children(isHeld)}
    </g>
  );
}

/** The knob of a line: the same on every drawing. */
export function Knob({ x, y, turned = false }: { x: number; y: number; turned?: boolean }) {
  return (
    <g transform={turned ? `rotate(90 ${x} ${y})` : undefined}>
      <rect x={x - 24} y={y - 20} width="48" height="40" fill="transparent" />
      <rect x={x - 15} y={y - 11} width="30" height="22" rx="11" className="fill-spruce" />
      <path
        d={`M${x - 4} ${y - 2.5}h8M${x - 4} ${y + 2.5}h8`}
        className="stroke-on-spruce"
        strokeWidth="1.5"
      />
    </g>
  );
}

/** Steps of a length: half a millimetre and one, or a 32nd and a 16th of an inch. */
export const lengthSteps = (units: "metric" | "us") =>
  units === "us" ? { snap: 0.0254 / 32, step: 0.0254 / 16 } : { snap: 0.0005, step: 0.001 };
/** Of a film: hundredths and tenths of a millimetre, or a mil and five. */
export const filmSteps = (units: "metric" | "us") =>
  units === "us" ? { snap: 2.54e-5, step: 1.27e-4 } : { snap: 1e-5, step: 1e-4 };
