/** Files out of a void, all in mm to scale. */
import { DropdownMenu } from "radix-ui";
import type { Void } from "../../api/queries";

/** damLeast: what the plan asks of a dam [m]; without a resin chosen there is none yet. */
export function ExportMenu({
  pieceId,
  hollow,
  layers,
  damLeast,
}: {
  pieceId: number;
  hollow: Void;
  layers: number;
  damLeast?: number | undefined;
}) {
  const base = `/api/v1/pieces/${pieceId}/voids/${hollow.id}/export`;
  const dam = hollow.form?.dam_m?.value ?? damLeast;
  const kind = hollow.shape.kind;
  const solid = kind !== "fill test" && kind !== "stated";
  const items: [string, string][] = [
    ["Opening, to print", "what=opening&format=pdf"],
    ["Opening, SVG", "what=opening&format=svg"],
    ["Opening, DXF", "what=opening&format=dxf"],
    ["Dam ring, to print", "what=dam&format=pdf"],
    ["Dam ring, SVG", "what=dam&format=svg"],
    ...(dam ? ([["Dam ring, STL", `what=dam&format=stl&dam_height_m=${dam}`]] as [string, string][]) : []),
    ...(solid
      ? ([
          ["Hollow, STL", "what=cavity&format=stl"],
          ["Hollow, 3MF", "what=cavity&format=3mf"],
        ] as [string, string][])
      : []),
    ...(solid
      ? Array.from({ length: Math.min(layers, 6) }, (_, index): [string, string] => [
          `Layer ${index + 1}, STL`,
          `what=layer&format=stl&layer=${index + 1}`,
        ])
      : []),
    ...(kind === "river" ? ([["Stations, CSV", "what=stations&format=csv"]] as [string, string][]) : []),
  ];
  return (
    <DropdownMenu.Root>
      <DropdownMenu.Trigger className="quiet">Save a file of it</DropdownMenu.Trigger>
      <DropdownMenu.Portal>
        <DropdownMenu.Content
          className="z-50 bg-paper border border-ink p-1 min-w-48"
          sideOffset={4}
          collisionPadding={8}
        >
          {items.map(([word, query]) => (
            <DropdownMenu.Item key={word} asChild>
              <a
                className="block px-3 py-1.5 data-[highlighted]:bg-spruce-soft outline-none"
                href={`${base}?${query}`}
                download
              >
                {word}
              </a>
            </DropdownMenu.Item>
          ))}
        </DropdownMenu.Content>
      </DropdownMenu.Portal>
    </DropdownMenu.Root>
  );
}
