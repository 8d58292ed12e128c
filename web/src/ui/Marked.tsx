/** A camera's picture with rings and lines where something was seen. */
import { useState } from "react";

interface Props {
  src: string;
  size: readonly [number, number];
  marks: readonly (readonly number[])[];
  alt: string;
  className?: string;
}

export function Marked({ src, size, marks, alt, className = "" }: Props) {
  const [width, height] = size;
  const thick = width / 220;
  const [isThere, setThere] = useState(false);
  return (
    <svg viewBox={`0 0 ${width} ${height}`} role="img" aria-label={alt} className={className}>
      <image href={src} width={width} height={height} onLoad={() => setThere(true)} />
      {(isThere ? marks : []).map((one, index) => {
        const [a = 0, b = 0, c = 0, d] = one;
        return [
          ["#20262b", thick * 2.4],
          ["#f2c230", thick],
        ].map(([stroke, line]) =>
          d === undefined ? (
            <circle
              key={`${index}${stroke}`}
              cx={a}
              cy={b}
              r={c + thick * 2}
              fill="none"
              stroke={String(stroke)}
              strokeWidth={line}
            />
          ) : (
            <line
              key={`${index}${stroke}`}
              x1={a}
              y1={b}
              x2={c}
              y2={d}
              stroke={String(stroke)}
              strokeWidth={Number(line) * 1.6}
            />
          ),
        );
      })}
    </svg>
  );
}

export const fileUrl = (sha256: string) => `/api/v1/files/${sha256}/photo.jpg`;
