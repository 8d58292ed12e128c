/** A page of a sheet with what was read on it marked: the line at hand strongly, the others faintly. A photo or a PDF is
 *  shown as it is, text as its words stand. */
import { useEffect, useRef } from "react";
import type { Schemas } from "../../../api/client";
import type { Reading, Row } from "../../../domain/sheet-reading";

type Place = Schemas["Place"];

export function SheetPage({
  reading,
  page,
  at,
  onChoose,
}: {
  reading: Reading;
  page: Schemas["Page"];
  at: Row | undefined;
  onChoose: (row: Row) => void;
}) {
  const here = useRef<SVGRectElement>(null);
  useEffect(() => {
    here.current?.scrollIntoView({ block: "nearest" });
  }, [at]);
  const places = reading.rows.flatMap((row) =>
    row.found.where.filter((box) => box.page === page.number).map((box) => ({ row, box })),
  );
  return (
    <svg
      viewBox={`0 0 ${page.width} ${page.height}`}
      role="img"
      aria-label={`Page ${page.number} of the sheet`}
      className="w-full h-auto bg-white border border-line mb-4"
    >
      {reading.has_pictures ? (
        <>
          <text
            x={page.width / 2}
            y={page.height / 4}
            textAnchor="middle"
            fontSize={page.width / 40}
            fill="#555"
          >
            The page is being drawn …
          </text>
          <image
            href={`/api/v1/sheets/${reading.file}/pages/${page.number}.jpg`}
            width={page.width}
            height={page.height}
            preserveAspectRatio="none"
          />
        </>
      ) : (
        page.words.map((word, index) => (
          <text
            key={index}
            x={word.x0}
            y={word.bottom}
            fontSize={(word.bottom - word.top) * 0.95}
            textLength={word.x1 - word.x0}
            fill="#111"
            fontFamily="monospace"
          >
            {word.text}
          </text>
        ))
      )}
      {places.map(({ row, box }, index) => (
        <Mark
          key={index}
          box={box}
          isHere={row === at}
          innerRef={row === at && box === row.found.where[0] ? here : undefined}
          onChoose={() => onChoose(row)}
        />
      ))}
      {(at?.found.named_by ?? [])
        .filter((box) => box.page === page.number)
        .map((box, index) => (
          <rect
            key={index}
            {...around(box)}
            fill="none"
            stroke="#1f5a49"
            strokeWidth={1}
            strokeDasharray="3 2"
          />
        ))}
    </svg>
  );
}

function Mark({
  box,
  isHere,
  innerRef,
  onChoose,
}: {
  box: Place;
  isHere: boolean;
  innerRef: React.RefObject<SVGRectElement | null> | undefined;
  onChoose: () => void;
}) {
  return (
    <rect
      ref={innerRef}
      {...around(box)}
      fill="#e0b13a"
      fillOpacity={isHere ? 0.45 : 0.14}
      stroke={isHere ? "#1f5a49" : "none"}
      strokeWidth={1.5}
      className="cursor-pointer"
      onClick={onChoose}
    />
  );
}

function around(box: Place) {
  const air = (box.bottom - box.top) * 0.15;
  return {
    x: box.x0 - air,
    y: box.top - air,
    width: box.x1 - box.x0 + 2 * air,
    height: box.bottom - box.top + 2 * air,
  };
}
